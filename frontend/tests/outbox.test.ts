import { describe, expect, it, vi } from "vitest";

import { Away, Refused, SignedOut } from "../src/api/client";
import type { NewEntry, Waiting } from "../src/api/outbox/entry";
import { Outbox } from "../src/api/outbox/outbox";

const entry = (id: string): NewEntry => ({
  id,
  instrument: "knot",
  begins: null,
  request: { method: "POST", path: `/api/${id}`, body: { id } },
  shown: { what: "reading", string: "A", text: "-12" },
});

/** An outbox whose server gives these answers one after the other (then takes all), and what it was sent. */
function begun(answers: (Error | null)[] = [], kept: Waiting[] = [], studio = "here") {
  const shelf = new Map(kept.map((each) => [each.id, each]));
  const sent: string[] = [];
  const paused: number[] = [];
  const stored: string[] = [];
  const outbox = new Outbox<string>({
    shelf: {
      put: (one) => Promise.resolve(void shelf.set(one.id, one)),
      remove: (id) => Promise.resolve(void shelf.delete(id)),
      all: () => Promise.resolve([...shelf.values()]),
    },
    send: ({ id }) => {
      sent.push(id);
      const error = answers.shift() ?? null;
      return error === null ? Promise.resolve(`answer to ${id}`) : Promise.reject(error);
    },
    studio: () => studio,
    onStored: ({ id }) => stored.push(id),
    pause: (ms) => Promise.resolve(void paused.push(ms)),
  });
  return { outbox, shelf, sent, paused, stored };
}

describe("what is entered", () => {
  it("is sent in its order, and kept until it is stored", async () => {
    const { outbox, shelf, sent, stored } = begun();
    const answers = ["one", "two", "three"].map((id) => outbox.put(entry(id)));
    expect([...shelf.keys()]).toEqual(["one", "two", "three"]);
    expect(await Promise.all(answers)).toEqual(["answer to one", "answer to two", "answer to three"]);
    expect(sent).toEqual(["one", "two", "three"]);
    expect(stored).toEqual(sent);
    expect(shelf.size).toBe(0);
    expect(outbox.seen()).toEqual([]);
  });

  it("is tried until the server is there, ever less often, and nothing passes it", async () => {
    const { outbox, sent, paused } = begun([new Away(), new SignedOut(), new Away(), new Away(), new Away()]);
    const one = outbox.put(entry("one"));
    await Promise.all([one, outbox.put(entry("two"))]);
    expect(sent).toEqual([...Array<string>(6).fill("one"), "two"]);
    expect(paused).toEqual([400, 800, 1600, 3200, 4000]);
  });

  it("that is refused stays in sight with the reason, holds nothing up, and may be sent again", async () => {
    const { outbox, shelf, sent } = begun([new Refused("No such string.", "string")]);
    await expect(outbox.put(entry("one"))).rejects.toThrow("No such string.");
    await outbox.put(entry("two"));
    expect(outbox.seen().map(({ id, refused }) => [id, refused])).toEqual([["one", "No such string."]]);
    expect(shelf.get("one")?.refused).toBe("No such string.");
    outbox.again("one");
    await vi.waitFor(() => {
      expect(outbox.seen()).toEqual([]);
    });
    expect(sent).toEqual(["one", "two", "one"]);
  });

  it("can be taken back until it is on its way", async () => {
    let arrive: (() => void) | undefined;
    const { outbox, stored } = begun();
    const slow = new Outbox<string>({
      ...{ shelf: { put: () => Promise.resolve(), remove: () => Promise.resolve(), all: () => Promise.resolve([]) } },
      send: ({ id }) =>
        new Promise((resolve) => {
          arrive = () => {
            resolve(id);
          };
        }),
      studio: () => null,
      onStored: () => undefined,
    });
    const one = slow.put(entry("one"));
    const two = slow.put(entry("two"));
    expect(slow.drop("one")).toBe(false);
    expect(slow.drop("two")).toBe(true);
    await expect(two).rejects.toThrow("Taken back");
    arrive?.();
    expect(await one).toBe("one");
    expect([outbox.drop("never"), stored]).toEqual([false, []]);
  });

  it("by an earlier page goes first, once; that of another studio waits", async () => {
    const left = (id: string, order: number, studio?: string): Waiting => ({
      ...entry(id),
      order,
      refused: null,
      ...(studio === undefined ? {} : { studio }),
    });
    const kept = [left("late", 20, "here"), left("early", 10), left("theirs", 5, "elsewhere")];
    const { outbox, sent, shelf } = begun([], kept);
    await outbox.takeUp((each) => ({ ...each, request: { ...each.request, path: "/mine" } }));
    await outbox.put(entry("new"));
    expect(sent).toEqual(["early", "late", "new"]);
    expect(outbox.seenElsewhere().map(({ id }) => id)).toEqual(["theirs"]);
    outbox.dropElsewhere("theirs");
    expect([outbox.seenElsewhere(), shelf.size]).toEqual([[], 0]);
  });
});
