import { useSyncExternalStore } from "react";

import type { Bench } from "./client";
import { askWhoIAm } from "./device";
import { setAway } from "./connection";
import { setClockNote } from "./clockNote";
import { benchKey, outbox } from "./outbox/benchOutbox";
import { pauseMs } from "./policy";
import { queries } from "./queries";

/**
 * What the server tells of a change, or `missed`: something may have changed that wasn't told. `begun`: a stream begins; what
 * changed just before is told next.
 */
interface Told {
  reach?: "log" | "studio";
  instruments?: Record<string, number>;
  missed?: boolean;
  begun?: boolean;
  /** The database tells of changes now. */
  live?: boolean;
  /** The computer's clock was set, in words. */
  clock?: string;
}

/** What one tab passes on to the others: a change, or whether the server is there and tells of changes. */
type Passed = { kind: "told"; told: Told } | { kind: "state"; there: boolean; live: boolean };

const LOCK = "pondus-changes";
/** The answer to what this page entered itself is mostly here by then. */
const OWN_ANSWER_MS = 350;
/** How soon after the last time a page that shows the morning asks again, and one that only names the next instrument. */
const MORNING_MS = 1000;
const ASIDE_MS = 15_000;
/** How often pages ask without being told: now and then, and where nobody tells. */
const SELDOM_MS = 60_000;
const OFTEN_MS = 4000;

/** What was asked so lately is not asked again when a stream begins: what changed a moment before comes with it. */
const JUST_ASKED_MS = 2000;

let live = false;
const watchers = new Set<() => void>();

/** How often to ask for what others may change. */
export function useAskEvery(): number {
  return useSyncExternalStore(
    (tell) => {
      watchers.add(tell);
      return () => watchers.delete(tell);
    },
    () => (live ? SELDOM_MS : OFTEN_MS),
  );
}

/**
 * Be told of every change. The tabs of one browser share one stream: the tab in sight holds it, and passes on what it hears.
 */
export function beginChanges(): void {
  const others = typeof BroadcastChannel === "function" ? new BroadcastChannel(LOCK) : null;
  const take = (passed: Passed) => {
    if (passed.kind === "told") changed(passed.told);
    else setState(passed);
  };
  others?.addEventListener("message", (event: MessageEvent<Passed>) => {
    take(event.data);
  });
  const stream = new Stream((passed) => {
    others?.postMessage(passed);
    take(passed);
  });
  // A page that is not secure has no locks; then each tab has a stream of its own.
  const locks = (navigator as { locks?: LockManager }).locks;
  if (locks === undefined || others === null) {
    stream.open();
    return;
  }
  hold(locks, stream);
  document.addEventListener("visibilitychange", () => {
    if (document.visibilityState === "visible" && !stream.isOpen) hold(locks, stream);
  });
}

/** Take the stream over, until another tab does; then wait in case that one goes. */
function hold(locks: LockManager, stream: Stream): void {
  const taken = (steal: boolean) =>
    locks.request(LOCK, steal ? { steal } : {}, () => {
      stream.open();
      return new Promise<never>(() => undefined);
    });
  taken(document.visibilityState === "visible")
    .catch(() => {
      stream.close();
      return taken(false);
    })
    .catch(() => {
      stream.close();
    });
}

/** A stream of the server's events that comes back by itself. */
class Stream {
  private source: EventSource | null = null;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private failures = 0;

  constructor(private readonly pass: (passed: Passed) => void) {}

  get isOpen(): boolean {
    return this.source !== null;
  }

  open(): void {
    this.close();
    const source = new EventSource("/api/changes");
    this.source = source;
    const begun = (isLive: boolean) => (event: MessageEvent<string>) => {
      this.failures = 0;
      this.pass({ kind: "state", there: true, live: isLive });
      this.pass({ kind: "told", told: { begun: true } });
      this.pass({ kind: "told", told: JSON.parse(event.data) as Told });
    };
    source.addEventListener("live", begun(true));
    source.addEventListener("deaf", begun(false));
    source.addEventListener("message", (event: MessageEvent<string>) => {
      const told = JSON.parse(event.data) as Told;
      if (told.live === true) this.pass({ kind: "state", there: true, live: true });
      this.pass({ kind: "told", told });
    });
    source.addEventListener("ended", askWhoIAm);
    source.addEventListener("error", () => {
      askWhoIAm(); // a stream doesn't tell why it broke off
      this.pass({ kind: "state", there: false, live: false });
      if (this.source !== source) return;
      source.close();
      this.timer = setTimeout(() => {
        this.open();
      }, pauseMs(this.failures++));
    });
  }

  close(): void {
    clearTimeout(this.timer);
    this.source?.close();
    this.source = null;
  }
}

function setState(now: { there: boolean; live: boolean }): void {
  if (now.there) outbox.kick();
  setAway(!now.there);
  if (now.live === live) return;
  live = now.live;
  for (const tell of watchers) tell();
}

/** Ask anew for what is on the screen and isn't so any more. */
function changed({ reach, instruments = {}, missed = false, begun = false, clock }: Told): void {
  if (clock !== undefined) setClockNote(clock);
  if (missed || begun) {
    const since = missed ? Infinity : Date.now() - JUST_ASKED_MS;
    void queries.invalidateQueries({
      predicate: ({ queryKey, state }) => queryKey[0] !== "kinds" && state.dataUpdatedAt < since,
    });
    return;
  }
  if (reach === undefined) return;
  setTimeout(() => {
    for (const [id, version] of Object.entries(instruments)) askBench(id, version);
  }, OWN_ANSWER_MS);
  askMorning();
  if (reach !== "studio") return;
  for (const key of ["instruments", "people", "care", "places", "set-aside", "last-list", "zone", "me", "devices"]) {
    void queries.invalidateQueries({ queryKey: [key] });
  }
}

function askBench(id: string, version: number): void {
  const shown = queries.getQueryData<Bench>(benchKey(id));
  if (shown === undefined || shown.log_version >= version) return;
  void queries.invalidateQueries({ queryKey: benchKey(id) });
  void queries.invalidateQueries({ queryKey: ["ledger", id] });
}

/** Whether an answer from just before the last readings will do: where others' are told of, until it is asked again. */
export const mayLag = { morning: false, plan: false };

let asking: ReturnType<typeof setTimeout> | undefined;
let askedAt = -Infinity;

/** The morning and its plan, together with whatever else changes in the meantime. */
export function askMorning(): void {
  if (asking !== undefined) return;
  const shown = ["/morning", "/sweep"].includes(window.location.pathname);
  const soonest = askedAt + (shown ? MORNING_MS : ASIDE_MS) - performance.now();
  asking = setTimeout(
    () => {
      asking = undefined;
      askedAt = performance.now();
      mayLag.morning = mayLag.plan = true;
      void queries.invalidateQueries({ queryKey: ["morning"] });
      void queries.invalidateQueries({ queryKey: ["morning-plan"] });
    },
    Math.max(0, soonest),
  );
}
