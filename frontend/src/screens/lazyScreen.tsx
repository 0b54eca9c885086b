import type { ComponentType } from "react";
import { lazy } from "react";

import { setAway } from "../api/connection";
import { loadNewer } from "../api/newer";
import { pauseMs } from "../api/policy";

const TRIES_BEFORE_RELOAD = 3;

/**
 * A screen that comes when it is first looked at. While the server is away it is asked for again and again. Where Pondus was
 * renewed since this page was loaded, the page is loaded anew; so it is where a browser remembers a failure.
 */
export function lazyScreen<Props = object>(load: () => Promise<ComponentType<Props>>) {
  return lazy(async () => ({ default: await keptTrying(load) }));
}

async function keptTrying<Part>(load: () => Promise<Part>): Promise<Part> {
  for (let tries = 0; ; tries++) {
    try {
      return await load();
    } catch {
      const found = await loadNewer(tries >= TRIES_BEFORE_RELOAD);
      setAway(found === "away");
      await new Promise((resolve) => setTimeout(resolve, pauseMs(tries)));
    }
  }
}
