import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import type { components } from "./schema";
import { answered, api } from "./client";

export type Kind = components["schemas"]["KindList.KindOut"]["kind"];

const KINDS = { queryKey: ["kinds"], queryFn: () => answered(api.GET("/api/kinds")), staleTime: Infinity };

/** What can be tuned. */
export function useKinds() {
  return useQuery({ ...KINDS, select: (found) => found.kinds });
}

/** What can be chosen, and how each choice is said. */
export function useChoices() {
  return useQuery({ ...KINDS, select: (found) => found.choices });
}

/** The roll; `retired`: also what is no longer in use; `asks`: whether it is needed. */
export function useInstruments(retired = false, asks = true) {
  return useQuery({
    enabled: asks,
    queryKey: ["instruments", retired],
    queryFn: async () => (await answered(api.GET("/api/instruments", { params: { query: { retired } } }))).instruments,
  });
}

export type OnRoll = components["schemas"]["InstrumentList.OnRoll"];
export type InstrumentChange = components["schemas"]["InstrumentChange"];

/** Label, size, note, player; retiring and bringing back. */
export function useChangeInstrument() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ id, change }: { id: string; change: InstrumentChange }) =>
      answered(api.PATCH("/api/instruments/{instrument_id}", { params: { path: { instrument_id: id } }, body: change })),
    onSuccess: async (_, { id }) => {
      for (const key of [["instruments"], ["morning"], ["care"], ["bench", id], ["ledger", id]]) {
        await queries.invalidateQueries({ queryKey: key });
      }
    },
  });
}

export function useAddInstrument() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (body: components["schemas"]["NewInstrument"]) => answered(api.POST("/api/instruments", { body })),
    onSuccess: () => queries.invalidateQueries({ queryKey: ["instruments"] }),
  });
}
