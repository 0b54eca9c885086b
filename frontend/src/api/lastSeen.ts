import type { DehydratedState } from "@tanstack/react-query";
import { dehydrate, hydrate } from "@tanstack/react-query";

import { browserStore } from "./browserStore";
import { queries } from "./queries";
import { studioHere } from "./studio";

/** What is shown while the server can't be asked: benches, the morning, the roll. Nothing of what only matters in the moment. */
const KEPT = new Set(["me", "bench", "fifths", "instruments", "kinds", "ledger", "morning", "morning-plan", "people", "care"]);
const LAYOUT = 1;
const AT_MOST_EVERY_MS = 2000;
const HANDED_OUT_WITHIN_MS = 400;

/** Each studio's apart: the next one at this address must not show it as its own. */
function keptAs(): string {
  return `queries ${studioHere() ?? ""}`.trim();
}

interface LastSeen {
  layout: number;
  state: DehydratedState;
}

/** What was last seen is shown until the server has answered; a browser that doesn't hand it out at once is not waited for. */
export function showLastSeen(): Promise<void> {
  const late = new Promise<void>((resolve) => setTimeout(resolve, HANDED_OUT_WITHIN_MS));
  return Promise.race([handOut().catch(() => undefined), late]);
}

async function handOut(): Promise<void> {
  const kept = (await (await browserStore())?.get("seen", keptAs()).catch(() => undefined)) as LastSeen | undefined;
  if (kept?.layout === LAYOUT) hydrate(queries, kept.state);
}

/** Keep what is seen, now and then. */
export function keepLastSeen(): void {
  let timer: ReturnType<typeof setTimeout> | undefined;
  const keep = () => {
    timer = undefined;
    const state = dehydrate(queries, {
      shouldDehydrateMutation: () => false,
      shouldDehydrateQuery: ({ queryKey, state: { status } }) => status === "success" && KEPT.has(String(queryKey[0])),
    });
    const kept: LastSeen = { layout: LAYOUT, state };
    void browserStore().then((store) => store?.put("seen", kept, keptAs()).catch(() => undefined));
  };
  queries.getQueryCache().subscribe(({ type }) => {
    if (type === "updated") timer ??= setTimeout(keep, AT_MOST_EVERY_MS);
  });
}
