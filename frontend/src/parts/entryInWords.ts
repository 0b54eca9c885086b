import type { Waiting } from "../api/outbox/entry";

/** A waiting entry, as its maker would say it. */
export function inWords(shown: Waiting["shown"]): string {
  return shown.what === "change" ? shown.text : `${shown.string} ${shown.text}`;
}
