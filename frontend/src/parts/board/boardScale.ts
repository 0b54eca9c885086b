/** Where things stand on the board, in px. Layout only: the figures come from the server. */

export const BOARD_HEIGHT = 380;
export const REST_Y = BOARD_HEIGHT / 2 - 16;
const EDGE_PX = 118;
const FINE_CENTS = 5;
const EDGE_CENTS = 100;

/** Distance from the rest line for a distance in cents: fine near the line, compressed further out; the edge past ±100. */
export function heightOf(cents: number): number {
  const size = Math.min(Math.abs(cents), EDGE_CENTS);
  const share = Math.log2(1 + size / FINE_CENTS) / Math.log2(1 + EDGE_CENTS / FINE_CENTS);
  const past = Math.abs(cents) > EDGE_CENTS ? 12 : 0;
  return -Math.sign(cents) * (share * EDGE_PX + past);
}

/** Middle of each strand for a board of this width. */
export function strandX(place: number, count: number, width: number): number {
  return (width * (place + 0.5)) / count;
}
