import type { StringBench } from "../../api/client";

/** Whether the figure kept of a string isn't where it stands any more: it was turned since, or pulled out by the others' turns. */
export function isOutOfDate(string: StringBench): boolean {
  return string.pending !== null || (string.advice?.state === "in-tune" && !string.is_left);
}
