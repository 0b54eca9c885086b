import { useSyncExternalStore } from "react";

/** Whether the server answered when it was last asked. */
let away = false;
const told = new Set<() => void>();

export function setAway(now: boolean): void {
  if (now === away) return;
  away = now;
  for (const tell of told) tell();
}

const signedOut = new Set<() => void>();

/** Be told when the server treats this device as a stranger's. */
export function onSignedOut(tell: () => void): void {
  signedOut.add(tell);
}

export function tellSignedOut(): void {
  for (const tell of signedOut) tell();
}

function subscribe(tell: () => void): () => void {
  told.add(tell);
  return () => told.delete(tell);
}

export function useAway(): boolean {
  return useSyncExternalStore(subscribe, () => away);
}
