import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import type { components } from "./schema";
import { answered, api } from "./client";

export type ClassRoutine = components["schemas"]["ClassOut"];
export type StudioSettings = components["schemas"]["SettingsOut"];
type Order = NonNullable<StudioSettings["order"]>;

/** What sounds in a class, one string after the other, and what everyone does. */
export function useClassRoutine(kinds: string[], seconds: number | null, order: Order | null) {
  return useQuery({
    queryKey: ["class", kinds.join(), seconds, order],
    enabled: kinds.length > 0,
    placeholderData: keepPreviousData,
    queryFn: () =>
      answered(
        api.GET("/api/class", {
          params: {
            query: {
              kinds: kinds.join(),
              ...(seconds !== null && { seconds }),
              ...(order !== null && { order }),
            },
          },
        }),
      ),
  });
}

/** The studio's settings. */
export function useStudioSettings() {
  return useQuery({ queryKey: ["settings"], queryFn: () => answered(api.GET("/api/settings")) });
}

/** Take an A from outside for today; null: the studio's own again. */
export function useA4Today() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (a4: number | null) => answered(api.POST("/api/settings/a4-today", { body: { a4 } })),
    onSuccess: (settings) => {
      queries.setQueryData(["settings"], settings);
      void queries.invalidateQueries({ queryKey: ["class"] });
    },
  });
}

/** What is done before a stage. */
export function useStage() {
  return useQuery({
    queryKey: ["stage"],
    staleTime: Infinity,
    queryFn: async () => (await answered(api.GET("/api/stage"))).parts,
  });
}
