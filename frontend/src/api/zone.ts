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
