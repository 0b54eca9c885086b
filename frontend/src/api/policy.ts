import { Away } from "./client";

const FIRST_MS = 400;
const MOST_MS = 4000;

/** How long to wait before the next try, the first ones quicker. */
export function pauseMs(tries: number): number {
  return Math.min(FIRST_MS * 2 ** tries, MOST_MS);
}

/**
 * The one policy of all requests: the server may well be on this computer, so what the browser thinks of the network is not
 * asked; whoever is away is tried for as long as the page lives, and a refusal is not tried again.
 */
export const KEEP_TRYING = {
  networkMode: "always",
  retry: (_: number, error: Error) => error instanceof Away,
  retryDelay: pauseMs,
} as const;
