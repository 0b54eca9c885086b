import { useSyncExternalStore } from "react";

let note: string | null = null;
const told = new Set<() => void>();

/** That the studio's clock was set, in words; null: it wasn't, or it was read. */
export function setClockNote(now: string | null): void {
  note = now;
  for (const tell of told) tell();
}

export function useClockNote(): string | null {
  return useSyncExternalStore(
    (tell) => {
      told.add(tell);
      return () => told.delete(tell);
    },
    () => note,
  );
}
