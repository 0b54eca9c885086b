import { useSyncExternalStore } from "react";

/** Which version of Pondus the server has now, told by the scripts that its page names. */
const SCRIPTS = /src="(\/assets\/[^"]+)"/g;
const TELLS_FOR_MS = 1500;
const AGAIN_AFTER_MS = 20_000;
const RELOADED_AT = "pondus-reloaded";

let isNewer = false;
const told = new Set<() => void>();

/** Whether Pondus was renewed, and this page is about to be loaded anew. */
export function useNewer(): boolean {
  return useSyncExternalStore(
    (tell) => {
      told.add(tell);
      return () => told.delete(tell);
    },
    () => isNewer,
  );
}

/**
 * A part of this page is missing. Where the server has a newer Pondus (or `anyway`), say so and load the page anew; what was
 * entered is kept in the browser meanwhile.
 */
export async function loadNewer(anyway: boolean): Promise<"away" | "same" | "newer"> {
  let page: string;
  try {
    const answer = await fetch("/", { cache: "no-store" });
    if (!answer.ok) return "away";
    page = await answer.text();
  } catch {
    return "away";
  }
  const mine = new Set([...document.scripts].map(({ src }) => new URL(src, location.href).pathname));
  const renewed = [...page.matchAll(SCRIPTS)].some(([, path]) => path !== undefined && !mine.has(path));
  if (!(renewed || anyway) || reloadedLately()) return "same";
  isNewer = renewed;
  for (const tell of told) tell();
  await new Promise((resolve) => setTimeout(resolve, renewed ? TELLS_FOR_MS : 0));
  window.location.reload();
  return "newer";
}

/** A page that was loaded anew a moment ago isn't again: that would never end. */
function reloadedLately(): boolean {
  try {
    const before = Number(sessionStorage.getItem(RELOADED_AT) ?? "0");
    if (Date.now() - before < AGAIN_AFTER_MS) return true;
    sessionStorage.setItem(RELOADED_AT, String(Date.now()));
  } catch {
    // a browser that keeps nothing may be asked twice
  }
  return false;
}
