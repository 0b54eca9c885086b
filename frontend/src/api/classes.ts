import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import type { components } from "./schema";
import { answered, api } from "./client";
import { sendForm } from "./fifths";

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
          params: { query: { kinds: kinds.join(), ...(seconds !== null && { seconds }), ...(order !== null && { order }) } },
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

export type RoomHeard = components["schemas"]["RoomOut"];

/** How far a room is apart that plays its A. */
export function hearRoom(sound: Blob): Promise<RoomHeard> {
  const form = new FormData();
  form.set("file", sound, "room.wav");
  return sendForm<RoomHeard>("/api/class/room", form);
}

/** What is done before a stage. */
export function useStage() {
  return useQuery({
    queryKey: ["stage"],
    staleTime: Infinity,
    queryFn: async () => (await answered(api.GET("/api/stage"))).parts,
  });
}
