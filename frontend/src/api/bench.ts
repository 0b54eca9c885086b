import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import { useAskEvery } from "./changes";
import type { Bench, Heard, MoveAnswer, NewMove, NewReading, StringFittings, TuningSettings } from "./client";
import { Away, Refused, answered, api, madeOn, newId, sending } from "./client";
import type { MoveMade } from "./moves";
import { benchKey, enter, outbox } from "./outbox/benchOutbox";

/** Today's newest tuning of an instrument; one is begun where there is none. */
export function useBench(instrumentId: string) {
  const refetchInterval = useAskEvery();
  return useQuery({
    refetchInterval,
    queryKey: benchKey(instrumentId),
    queryFn: (): Promise<Bench> =>
      answered(
        api.POST("/api/instruments/{instrument_id}/todays-tuning", {
          params: { path: { instrument_id: instrumentId } },
          body: { id: newId() },
        }),
      ),
  });
}

/** The tuning that is entered into: one that was begun a moment ago may still be on its way. */
function tuningOf(bench: Bench): string {
  const begun = outbox.seen().findLast((entry) => entry.instrument === bench.instrument.id && entry.begins !== null);
  return begun?.begins ?? bench.tuning.id;
}

/** Keep a reading. `text`: as the person knows it, while it waits. */
export function enterReading(bench: Bench, reading: NewReading, text: string): Promise<Bench> {
  return enter({
    id: reading.id,
    instrument: bench.instrument.id,
    request: {
      method: "POST",
      path: `/api/tunings/${tuningOf(bench)}/readings`,
      body: { ...madeOn(bench), ...reading } satisfies NewReading,
    },
    shown: { what: "reading", string: reading.string, text },
  });
}

/** Keep a move that was made. */
export function enterMove(bench: Bench, string: string, move: MoveMade): Promise<Bench> {
  const id = newId();
  return enter({
    id,
    instrument: bench.instrument.id,
    request: {
      method: "POST",
      path: `/api/tunings/${tuningOf(bench)}/moves`,
      body: { ...move, id, string, ...madeOn(bench) } satisfies NewMove,
    },
    shown: { what: "move", string, text: move.direction === "raise" ? "turned up" : "turned down" },
  });
}

export interface EntryRef {
  kind: "reading" | "move";
  id: string;
}

/** Strike an entry out, or bring it back. One that hasn't been sent is taken back. */
export function enterStrike(instrument: string, { kind, id }: EntryRef, back = false): Promise<Bench> | undefined {
  if (!back && outbox.drop(id)) return undefined;
  return enter({
    instrument,
    request: { method: back ? "DELETE" : "POST", path: `/api/${kind}s/${id}/strike`, body: back ? null : {} },
    shown: { what: "change", text: back ? "bring an entry back" : "strike an entry out" },
  });
}

/** What it was that had no effect, or went the wrong way. */
export function enterAnswer(instrument: string, move: string, answer: MoveAnswer): Promise<Bench> {
  return enter({
    instrument,
    request: { method: "POST", path: `/api/moves/${move}/answer`, body: { answer } },
    shown: { what: "change", text: "an answer" },
  });
}

/** Begin the next tuning of an instrument; the one before stays in its ledger. */
export function enterNewTuning(bench: Bench, settings: TuningSettings): Promise<Bench> {
  const id = newId();
  const instrument_id = bench.instrument.id;
  return enter({
    id,
    begins: id,
    instrument: instrument_id,
    request: { method: "POST", path: "/api/tunings", body: { ...settings, id, instrument_id } },
    shown: { what: "change", text: "a new tuning" },
  });
}

/** Take back a tuning that was begun and holds nothing. */
export function enterBack(bench: Bench): Promise<Bench> {
  return enter({
    instrument: bench.instrument.id,
    request: { method: "POST", path: `/api/instruments/${bench.instrument.id}/tuning-before`, body: { id: bench.tuning.id } },
    shown: { what: "change", text: "back to the tuning before" },
  });
}

/** Change how this tuning is done. */
export function enterSettings(bench: Bench, settings: TuningSettings): Promise<Bench> {
  return enter({
    instrument: bench.instrument.id,
    request: { method: "PATCH", path: `/api/tunings/${tuningOf(bench)}`, body: settings },
    shown: { what: "change", text: "how we tune" },
  });
}

/** Make these settings the default of the studio (null) or of one instrument. */
export function useKeepSettings() {
  return useMutation({
    mutationFn: async ({ instrumentId, settings }: { instrumentId: string | null; settings: TuningSettings }) => {
      if (instrumentId === null) await answered(api.PATCH("/api/settings", { body: settings }));
      else {
        const path = { instrument_id: instrumentId };
        await answered(api.PATCH("/api/instruments/{instrument_id}/settings", { params: { path }, body: settings }));
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
    onSuccess: () => queries.invalidateQueries({ queryKey: benchKey(instrumentId) }),
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
    response = await sending("/api/hear", { method: "POST", body: form });
  } catch {
    throw new Away("The recording could not be sent; Pondus doesn't answer just now.");
  }
  const answer = (await response.json()) as Heard & { error?: { message: string } };
  if (!response.ok) throw new Refused(answer.error?.message ?? "That recording could not be heard.", "file");
  return answer;
}
