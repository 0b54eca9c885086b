import type { Fifths } from "../../api/fifths";

/** Where things stand in the picture of the chain, in px. Layout only: the figures come from the server. */
export const PICTURE_HEIGHT = 262;
export const TARGET_Y = 112;
const REACH_PX = 84;
const RANGES = [8, 16, 32];

/** Half the range shown, in cents: the least round figure that holds every string and fifth; further out waits at the edge. */
export function rangeOf(fifths: Fifths): number {
  const sizes = [
    ...fifths.strings.map((each) => Math.abs(each.cents_off ?? 0)),
    ...fifths.links.map((each) => Math.abs(each.from_temperament_cents ?? 0)),
  ];
  const most = Math.max(...sizes, 0);
  return RANGES.find((each) => each >= most) ?? 32;
}

/** Height of a string so many cents from its target. */
export function heightAt(cents: number, range: number): number {
  return TARGET_Y - Math.max(-1.1, Math.min(1.1, cents / range)) * REACH_PX;
}
