import { useQuery } from "@tanstack/react-query";

import type { components } from "./schema";
import { answered, api } from "./client";

export type Ledger = components["schemas"]["LedgerOut"];
export type LedgerTuning = components["schemas"]["LedgerOut.LedgerTuningOut"];
export type LedgerString = components["schemas"]["LedgerOut.LedgerStringOut"];
export type SlipRate = components["schemas"]["LedgerOut.SlipRate"];

export function useLedger(instrumentId: string) {
  return useQuery({
    queryKey: ["ledger", instrumentId],
    queryFn: () =>
      answered(api.GET("/api/instruments/{instrument_id}/ledger", { params: { path: { instrument_id: instrumentId } } })),
  });
}

/** One past tuning with its readings and moves. */
export function useTuningHistory(tuningId: string | null) {
  return useQuery({
    queryKey: ["tuning", tuningId],
    enabled: tuningId !== null,
    queryFn: () => answered(api.GET("/api/tunings/{tuning_id}", { params: { path: { tuning_id: tuningId ?? "" } } })),
  });
}
