import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import type { components } from "./schema";
import { answered, api } from "./client";

export function useKinds() {
  return useQuery({
    queryKey: ["kinds"],
    queryFn: async () => (await answered(api.GET("/api/kinds"))).kinds,
    staleTime: Infinity,
  });
}

export function useInstruments() {
  return useQuery({
    queryKey: ["instruments"],
    queryFn: async () => (await answered(api.GET("/api/instruments"))).instruments,
  });
}

export function useAddInstrument() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (body: components["schemas"]["NewInstrument"]) =>
      answered(api.POST("/api/instruments", { body })),
    onSuccess: () => queries.invalidateQueries({ queryKey: ["instruments"] }),
  });
}
