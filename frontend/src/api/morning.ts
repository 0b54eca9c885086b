import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import type { components } from "./schema";
import { askMorning, mayLag, useAskEvery } from "./changes";
import { answered, api, newId } from "./client";

export type Triaged = components["schemas"]["MorningOut.TriagedOut"];
export type Planned = components["schemas"]["PlannedOut"];
export type StationPlanned = components["schemas"]["PlannedOut.StationOut"];
type NewStation = components["schemas"]["NewStation"];
export type StationChange = components["schemas"]["StationChange"];

const PLAN = ["morning-plan"];

function lag(what: keyof typeof mayLag): { may_lag?: boolean } {
  const may_lag = mayLag[what];
  mayLag[what] = false;
  return may_lag ? { may_lag } : {};
}

/** An answer that lags says so; it is asked for again. */
async function perhapsLate<T extends { response: Response }>(call: Promise<T>): Promise<T> {
  const outcome = await call;
  if (outcome.response.headers.has("Pondus-Ask-Again")) askMorning();
  return outcome;
}

/** Every instrument of the studio, sorted; asked again as readings come. */
export function useMorning(enabled = true) {
  const refetchInterval = useAskEvery();
  return useQuery({
    enabled,
    queryKey: ["morning"],
    queryFn: () => answered(perhapsLate(api.GET("/api/morning", { params: { query: lag("morning") } }))),
    refetchInterval,
  });
}

/** Who is there and who does what; planned anew as instruments are done or people are late. */
export function useMorningPlan(enabled = true) {
  const refetchInterval = useAskEvery();
  return useQuery({
    queryKey: PLAN,
    placeholderData: keepPreviousData,
    enabled,
    refetchInterval,
    queryFn: () => answered(perhapsLate(api.GET("/api/morning/plan", { params: { query: lag("plan") } }))),
  });
}

/** A change to who is there or what they have in hand; each answers with the new plan. */
function usePlanChange<Input>(send: (input: Input) => Promise<Planned>) {
  const queries = useQueryClient();
  return useMutation<Planned, Error, Input>({
    mutationFn: send,
    onSuccess: (planned) => {
      queries.setQueryData(PLAN, planned);
    },
  });
}

export function useAddStation() {
  return usePlanChange((body: Omit<NewStation, "id">) =>
    answered(api.POST("/api/morning/stations", { body: { ...body, id: newId() } })),
  );
}

/** The same people as on the last morning. */
export function useAsLastTime() {
  return usePlanChange<undefined>(() => answered(api.POST("/api/morning/stations/as-last-time")));
}

export function useChangeStation() {
  return usePlanChange(({ id, change }: { id: string; change: StationChange }) =>
    answered(api.PATCH("/api/morning/stations/{station_id}", { params: { path: { station_id: id } }, body: change })),
  );
}

export function useRemoveStation() {
  return usePlanChange((id: string) =>
    answered(api.DELETE("/api/morning/stations/{station_id}", { params: { path: { station_id: id } } })),
  );
}

/** Someone takes an instrument in hand (null: lays theirs down). */
export function useTake() {
  return usePlanChange(
    ({ station, instrument, over = false }: { station: string; instrument: string | null; over?: boolean }) =>
      answered(
        api.POST("/api/morning/stations/{station_id}/take", {
          params: { path: { station_id: station } },
          body: { instrument_id: instrument, tuning_id: instrument === null ? null : newId(), take_over: over },
        }),
      ),
  );
}
