import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import type { Bench, Heard, MoveAnswer, NewMove, NewReading, StringFittings, TuningSettings } from "./client";
import { answered, api, Away, newId, Refused } from "./client";

const keyOf = (instrumentId: string) => ["bench", instrumentId];

/** Today's newest tuning of an instrument; one is begun where there is none. */
export function useBench(instrumentId: string) {
  return useQuery({
    queryKey: keyOf(instrumentId),
    queryFn: (): Promise<Bench> =>
      answered(
        api.POST("/api/instruments/{instrument_id}/todays-tuning", {
          params: { path: { instrument_id: instrumentId } },
          body: { id: newId() },
        }),
      ),
  });
}

function beginTuning(instrumentId: string, settings: TuningSettings = {}): Promise<Bench> {
  return answered(
    api.POST("/api/tunings", { body: { ...settings, id: newId(), instrument_id: instrumentId } }),
  );
}

/** A change to the bench. It is sent again, under the same id, until the server has it or refuses it. */
function useBenchChange<Input>(instrumentId: string, send: (input: Input) => Promise<Bench>) {
  const queries = useQueryClient();
  return useMutation<Bench, Error, Input>({
    mutationFn: send,
    scope: { id: `bench-${instrumentId}` },
    retry: (count, error) => error instanceof Away && count < 40,
    retryDelay: 1500,
    onSuccess: (bench) => {
      queries.setQueryData(keyOf(instrumentId), bench);
    },
  });
}

export function useNewTuning(instrumentId: string) {
  return useBenchChange(instrumentId, (settings: TuningSettings) => beginTuning(instrumentId, settings));
}

export function useAddReading(instrumentId: string) {
  return useBenchChange(instrumentId, ({ tuningId, reading }: { tuningId: string; reading: NewReading }) =>
    answered(
      api.POST("/api/tunings/{tuning_id}/readings", {
        params: { path: { tuning_id: tuningId } },
        body: reading,
      }),
    ),
  );
}

export function useAddMove(instrumentId: string) {
  return useBenchChange(instrumentId, ({ tuningId, move }: { tuningId: string; move: NewMove }) =>
    answered(
      api.POST("/api/tunings/{tuning_id}/moves", { params: { path: { tuning_id: tuningId } }, body: move }),
    ),
  );
}

export interface EntryRef {
  kind: "reading" | "move";
  id: string;
}

export function useStrike(instrumentId: string) {
  return useBenchChange(instrumentId, ({ kind, id }: EntryRef) => {
    const given = { params: { path: { entry_id: id } }, body: {} };
    return kind === "reading"
      ? answered(api.POST("/api/readings/{entry_id}/strike", given))
      : answered(api.POST("/api/moves/{entry_id}/strike", given));
  });
}

export function useRestore(instrumentId: string) {
  return useBenchChange(instrumentId, ({ kind, id }: EntryRef) => {
    const given = { params: { path: { entry_id: id } } };
    return kind === "reading"
      ? answered(api.DELETE("/api/readings/{entry_id}/strike", given))
      : answered(api.DELETE("/api/moves/{entry_id}/strike", given));
  });
}

/** What it was that had no effect, or went the wrong way. */
export function useAnswerMove(instrumentId: string) {
  return useBenchChange(instrumentId, ({ id, answer }: { id: string; answer: MoveAnswer }) =>
    answered(
      api.POST("/api/moves/{entry_id}/answer", { params: { path: { entry_id: id } }, body: { answer } }),
    ),
  );
}

export function useTuningSettings(instrumentId: string) {
  return useBenchChange(
    instrumentId,
    ({ tuningId, settings }: { tuningId: string; settings: TuningSettings }) =>
      answered(
        api.PATCH("/api/tunings/{tuning_id}", { params: { path: { tuning_id: tuningId } }, body: settings }),
      ),
  );
}

/** Make these settings the default of the studio (null) or of one instrument. */
export function useKeepSettings() {
  return useMutation({
    mutationFn: async ({
      instrumentId,
      settings,
    }: {
      instrumentId: string | null;
      settings: TuningSettings;
    }) => {
      if (instrumentId === null) await answered(api.PATCH("/api/settings", { body: settings }));
      else {
        const path = { instrument_id: instrumentId };
        await answered(
          api.PATCH("/api/instruments/{instrument_id}/settings", { params: { path }, body: settings }),
        );
      }
    },
  });
}

export function useStringFittings(instrumentId: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ name, fittings }: { name: string; fittings: StringFittings }) =>
      answered(
        api.PATCH("/api/instruments/{instrument_id}/strings/{name}", {
          params: { path: { instrument_id: instrumentId, name } },
          body: fittings,
        }),
      ),
    onSuccess: () => queries.invalidateQueries({ queryKey: keyOf(instrumentId) }),
  });
}

/** What Pondus hears in one recording. */
export async function hearRecording(file: File, bench: Bench, string: string | null): Promise<Heard> {
  const form = new FormData();
  form.set("file", file);
  form.set("instrument", bench.instrument.kind);
  form.set("a4", String(bench.tuning.a4));
  form.set("target", JSON.stringify({ fifth_cents: bench.tuning.fifth_cents }));
  if (string !== null) form.set("string", string);
  let response: Response;
  try {
    response = await fetch("/api/hear", { method: "POST", body: form });
  } catch {
    throw new Away("The recording could not be sent; Pondus doesn't answer just now.");
  }
  const answer = (await response.json()) as Heard & { error?: { message: string } };
  if (!response.ok) throw new Refused(answer.error?.message ?? "That recording could not be heard.", "file");
  return answer;
}
