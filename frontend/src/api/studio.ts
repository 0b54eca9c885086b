import { useSyncExternalStore } from "react";

/**
 * Which studio this page is of. Two studios can stand at one address, one after the other: every answer says whose it is, every
 * request says whose is meant, and what was entered for one is never sent to the other.
 */
const HEADER = "Pondus-Studio";
const KEPT_AS = "pondus-studio";

let here: string | null = stored();
/** Whether this very page has had an answer of its studio. */
let isCertain = false;
let other: string | null = null;
const told = new Set<() => void>();

/** The studio of this page; null before any has answered in this browser. */
export function studioHere(): string | null {
  return here;
}

/** What a request carries, so that no other studio takes it. */
export function marked(headers: HeadersInit = {}): Headers {
  const all = new Headers(headers);
  if (here !== null) all.set(HEADER, here);
  return all;
}

/** Learn whose answer this is. A page that has just been opened becomes the page of whichever studio answers. */
export function learnStudio(answer: Response): void {
  const studio = answer.headers.get(HEADER);
  if (studio === null) return;
  if (studio === here || here === null) {
    isCertain = true;
    keep(studio);
    set(null);
  } else if (isCertain) set(studio);
  else {
    keep(studio);
    window.location.reload(); // its address may be of the studio that answers
  }
}

/** Become a page of the studio that answers; what waits for the one before stays. */
export function moveTo(studio: string): void {
  keep(studio);
  window.location.replace("/"); // what was open is the other one's
}

/** The studio that answers in place of this page's own, if one does. */
export function useOtherStudio(): string | null {
  return useSyncExternalStore(
    (tell) => {
      told.add(tell);
      return () => told.delete(tell);
    },
    () => other,
  );
}

function set(now: string | null): void {
  if (now === other) return;
  other = now;
  for (const tell of told) tell();
}

function keep(studio: string): void {
  here = studio;
  try {
    localStorage.setItem(KEPT_AS, studio);
  } catch {
    // a browser that keeps nothing asks anew
  }
}

function stored(): string | null {
  try {
    return localStorage.getItem(KEPT_AS);
  } catch {
    return null;
  }
}
