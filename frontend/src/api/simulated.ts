import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import type { components } from "./schema";
import { answered, api } from "./client";

export type Simulated = components["schemas"]["SimulatedOut"];
type Action = components["schemas"]["SimulatedAction"];
export type Begin = components["schemas"]["BeginSimulated"];

/** The simulated instrument that stands in for this one; null: none yet. */
export function useSimulated(instrumentId: string, wanted: boolean) {
  return useQuery({
    queryKey: ["simulated", instrumentId],
    enabled: wanted,
    queryFn: async (): Promise<Simulated | null> => {
      const seen = await answered(
        api.GET("/api/instruments/{instrument_id}/simulated", { params: { path: { instrument_id: instrumentId } } }),
      );
      return seen.begun ? seen : null;
    },
  });
}

/** Begin one, and do one thing after the other to it. `onBegun` is told under which id it is tuned. */
export function useSimulatedHands(instrumentId: string, onBegun: (id: string) => void) {
  const queries = useQueryClient();
  const params = { path: { instrument_id: instrumentId } };
  const shared = {
    scope: { id: `simulated-${instrumentId}` },
    onSuccess: (seen: Simulated) => {
      queries.setQueryData(["simulated", seen.instrument_id], seen);
    },
  };
  const begin = useMutation({
    ...shared,
    mutationFn: (body: Begin) => answered(api.PUT("/api/instruments/{instrument_id}/simulated", { params, body })),
    onSuccess: (seen: Simulated) => {
      shared.onSuccess(seen);
      void queries.invalidateQueries({ queryKey: ["bench", seen.instrument_id] });
      onBegun(seen.instrument_id);
    },
  });
  const act = useMutation({
    ...shared,
    mutationFn: (body: Action) => answered(api.POST("/api/instruments/{instrument_id}/simulated", { params, body })),
  });
  return { begin, act };
}
