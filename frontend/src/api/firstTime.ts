import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import type { components } from "./schema";
import { answered, api } from "./client";

export type FirstTime = components["schemas"]["NewFirstTime"];

/** What is looked at before a string is touched, and what stops everything. */
export function useLooks() {
  return useQuery({ queryKey: ["first-time"], staleTime: Infinity, queryFn: () => answered(api.GET("/api/first-time")) });
}

/** Begin with one instrument, from what was seen. */
export function useBeginFirstTime() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (body: FirstTime) => answered(api.POST("/api/first-time", { body })),
    onSuccess: () => queries.invalidateQueries({ queryKey: ["instruments"] }),
  });
}
