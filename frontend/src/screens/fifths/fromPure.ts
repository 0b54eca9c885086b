import { plain } from "../../parts/figures";

const PURE_WITHIN_CENTS = 0.05;

/** A fifth's distance from pure in words (cents, positive wide): a signed figure would read as a string's. */
export function fromPure(cents: number): string {
  if (Math.abs(cents) < PURE_WITHIN_CENTS) return "pure";
  return `${plain(cents)} ${cents < 0 ? "narrower" : "wider"} than pure`;
}
