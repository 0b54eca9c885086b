import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

/** A stream of events that the test speaks for. */
class Spoken extends EventTarget {
  static all: Spoken[] = [];
  closed = false;
  constructor() {
    super();
    Spoken.all.push(this);
  }
  close() {
    this.closed = true;
  }
  say(kind: string, told: object) {
    this.dispatchEvent(new MessageEvent(kind, { data: JSON.stringify(told) }));
  }
}

async function begun() {
  vi.resetModules();
  const { beginChanges, askMorning } = await import("../src/api/changes");
  const { queries } = await import("../src/api/queries");
  const asked = vi.spyOn(queries, "invalidateQueries").mockResolvedValue();
  beginChanges();
  const [stream] = Spoken.all;
  if (stream === undefined) throw new Error("no stream was opened");
  return { stream, queries, asked, askMorning, keys: () => asked.mock.calls.map(([filter]) => filter?.queryKey?.[0]) };
}

describe("changes that others make", () => {
  beforeEach(() => {
    vi.useFakeTimers();
    Spoken.all = [];
    vi.stubGlobal("EventSource", Spoken);
    vi.stubGlobal("BroadcastChannel", undefined);
    vi.stubGlobal("fetch", () => Promise.resolve(new Response("{}", { status: 200 })));
  });
  afterEach(() => {
    vi.useRealTimers();
    vi.unstubAllGlobals();
  });

  it("ask for a bench again only where it has come further than what is shown", async () => {
    const { stream, queries, keys } = await begun();
    queries.setQueryData(["bench", "knot"], { log_version: 7 });
    stream.say("message", { reach: "log", instruments: { knot: 7, ruff: 9 } });
    await vi.advanceTimersByTimeAsync(1000);
    expect(keys()).not.toContain("bench");
    stream.say("message", { reach: "log", instruments: { knot: 8 } });
    await vi.advanceTimersByTimeAsync(1000);
    expect(keys()).toContain("bench");
    expect(keys()).toContain("ledger");
  });

  it("ask for the morning once, however many come, and elsewhere not every second", async () => {
    const { stream, keys } = await begun();
    const mornings = () => keys().filter((key) => key === "morning").length;
    for (let time = 0; time < 20; time += 1) stream.say("message", { reach: "log", instruments: {} });
    await vi.advanceTimersByTimeAsync(1000);
    expect(mornings()).toBe(1);
    for (let time = 0; time < 20; time += 1) {
      stream.say("message", { reach: "log", instruments: {} });
      await vi.advanceTimersByTimeAsync(500);
    }
    expect(mornings()).toBe(1);
    await vi.advanceTimersByTimeAsync(10_000);
    expect(mornings()).toBe(2);
  });

  it("that weren't told make everything be asked again but what kinds there are", async () => {
    const { stream, asked } = await begun();
    stream.say("message", { missed: true });
    const predicate = asked.mock.calls.at(-1)?.[0]?.predicate;
    const query = (key: string) => ({ queryKey: [key], state: { dataUpdatedAt: Date.now() } }) as never;
    expect(["kinds", "morning", "bench"].map((key) => predicate?.(query(key)))).toEqual([false, true, true]);
  });

  it("are listened for again when the stream breaks off, ever less often", async () => {
    await begun();
    for (const pause of [400, 800, 1600]) {
      const before = Spoken.all.length;
      const last = Spoken.all.at(-1);
      last?.dispatchEvent(new Event("error"));
      expect(last?.closed).toBe(true);
      await vi.advanceTimersByTimeAsync(pause - 1);
      expect(Spoken.all.length).toBe(before);
      await vi.advanceTimersByTimeAsync(1);
      expect(Spoken.all.length).toBe(before + 1);
    }
  });
});
