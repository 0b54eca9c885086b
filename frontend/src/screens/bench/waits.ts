import type { StringBench } from "../../api/client";
import type { Waiting } from "../../api/outbox/entry";

/** What was entered of a string and isn't answered yet. `cents`: off its target, where the entry says so by itself. */
export interface Waits {
  text: string;
  cents: number | null;
  settles: boolean;
}

/** Cents of the string's own note as typed, where a line is nothing but that. */
function plainCents(text: string): number | null {
  const plain = text.trim().replace(/[−–]/g, "-").replace(",", ".");
  return /^[+-]?(\d+\.?\d*|\.\d+)$/.test(plain) ? Number(plain) : null;
}

/** Whether an entry will leave its string as it is, as far as the server told beforehand. */
export function settles(string: StringBench, text: string): boolean {
  const cents = plainCents(text);
  if (cents === null) return ["in tune", "the same"].includes(text.trim().toLowerCase());
  return cents >= string.settles_from_cents && cents <= string.settles_to_cents;
}

/** By string, the newest of what waits. */
export function waitsOf(strings: StringBench[], entries: readonly Waiting[]): Record<string, Waits> {
  const found: Record<string, Waits> = {};
  for (const { shown, refused } of entries) {
    if (refused !== null || shown.what === "change") continue;
    const string = strings.find((each) => each.name === shown.string);
    if (string === undefined) continue;
    const cents = shown.what === "reading" ? plainCents(shown.text) : null;
    found[shown.string] = {
      text: shown.text,
      cents: cents === null || Math.abs(cents) > 50 ? null : cents - string.tuner_shows_cents,
      settles: shown.what === "reading" && settles(string, shown.text),
    };
  }
  return found;
}
