import type { ComponentType } from "react";
import { lazy } from "react";

import { setAway } from "../api/connection";
import { pauseMs } from "../api/policy";

const TRIES_BEFORE_RELOAD = 3;

/**
 * A screen that comes when it is first looked at. While the server is away it is asked for again and again; a browser that
 * remembers the failure gets a new page as soon as the server answers.
 */
export function lazyScreen(load: () => Promise<ComponentType>) {
  return lazy(async () => ({ default: await keptTrying(load) }));
}

async function keptTrying(load: () => Promise<ComponentType>): Promise<ComponentType> {
  for (let tries = 0; ; tries++) {
    try {
      return await load();
    } catch {
      setAway(true);
      await new Promise((resolve) => setTimeout(resolve, pauseMs(tries)));
      if (tries >= TRIES_BEFORE_RELOAD && (await isThere())) window.location.reload();
    }
  }
}

async function isThere(): Promise<boolean> {
  try {
    return (await fetch("/", { cache: "no-store" })).ok;
  } catch {
    return false;
  }
}
