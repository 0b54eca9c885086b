import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import { answered, api, Away } from "./client";

const AGAIN_MS = 5000;

/** Tell the studio this browser's time zone; it lives by the first one it was told, until someone sets another. */
export function tellZone(): void {
  const { timeZone } = Intl.DateTimeFormat().resolvedOptions();
  if (timeZone === "") return;
  answered(api.POST("/api/settings/first-zone", { body: { zone: timeZone } })).catch((error: unknown) => {
    if (error instanceof Away) window.setTimeout(tellZone, AGAIN_MS);
  });
}

/** The time zone whose days the studio lives by; null until a browser told its own. */
export function useZone() {
  return useQuery({ queryKey: ["zone"], queryFn: async () => (await answered(api.GET("/api/settings"))).zone ?? null });
}

/** Live by another zone's days: what is "today" changes everywhere. */
export function useChangeZone() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (zone: string) => answered(api.PATCH("/api/settings", { body: { zone } })),
    onSuccess: () => queries.invalidateQueries(),
  });
}
