import { beforeAll, beforeEach, describe, expect, it } from "vitest";

import type { StringBench } from "../src/api/client";
import type { Waiting } from "../src/api/outbox/entry";
import { asMade, isDone } from "../src/api/moves";
import { keepDoubleClicks } from "../src/parts/doubleClick";
import { ago, countOf, plain, shortDay, signed, someOf } from "../src/parts/figures";
import type { Target } from "../src/parts/find/found";
import { fits, found } from "../src/parts/find/found";
import { answerSaid } from "../src/screens/bench/questionOf";
import { settles, waitsOf } from "../src/screens/bench/waits";

describe("figures", () => {
  it("say cents with a true minus, as exact as they are", () => {
    expect([-12, -9.96, -9.94, -0.04, 0.04, 3, 104.6].map(signed)).toEqual([
      "−12", "−10", "−9.9", "0", "0", "+3", "+105",
    ]); // prettier-ignore
    expect(plain(-0.25)).toBe("0.3");
  });

  it("say how long ago, and a day with its year where it is another", () => {
    const now = Date.parse("2026-07-04T08:00:00Z");
    const before = (seconds: number) => ago(new Date(now - 1000 * seconds).toISOString(), now);
    expect([4, 42, 150, 7300].map(before)).toEqual(["just now", "42 s ago", "3 min ago", "2 h ago"]);
    expect(before(-5)).toBe("just now");
    expect(shortDay("2019-07-04")).toBe("4 Jul 2019");
  });

  it("count and list as people do", () => {
    expect([countOf(1, "tuning"), countOf(1200, "tuning"), countOf(2, "body", "bodies")]).toEqual([
      "1 tuning", "1,200 tunings", "2 bodies",
    ]); // prettier-ignore
    expect([someOf(["G", "D", "A"], 1), someOf(["G", "D"], 1)]).toEqual(["G and 2 more", "G, D"]);
  });
});

describe("what is sought", () => {
  const target = (said: string, words = ""): Target => ({ to: `/${said}`, said, beside: "", words });
  const targets = [target("Knot", "Tjark violin"), target("Knotgrass"), target("Red knot"), target("Ärmel", "viola")];

  it("is found by the beginnings of its words, its own name first, accents or not", () => {
    expect(found(targets, "knot").map(({ said }) => said)).toEqual(["Knot", "Knotgrass", "Red knot"]);
    expect(found(targets, "armel vio").map(({ said }) => said)).toEqual(["Ärmel"]);
    expect(found(targets, "violin knot").map(({ said }) => said)).toEqual(["Knot"]);
    expect([found(targets, "  "), found(targets, "curlew")]).toEqual([[], []]);
  });

  it("may be the beginning of any word of a text", () => {
    expect([fits("On tablets and phones", "Tab PHO"), fits("On tablets", "ablets")]).toEqual([true, false]);
  });
});

describe("an entry that waits", () => {
  const string = { name: "A", tuner_shows_cents: 2, settles_from_cents: -1, settles_to_cents: 5 } as StringBench;
  const waiting = (text: string, more: Partial<Waiting> = {}) =>
    ({ refused: null, shown: { what: "reading", string: "A", text }, ...more }) as Waiting;

  it("says where its string stands only where it says so by itself", () => {
    expect(waitsOf([string], [waiting("−12,5")]).A).toEqual({ text: "−12,5", cents: -14.5, settles: false });
    for (const text of ["A3 +5", "440.2 Hz", "+80", "flat", ""])
      expect(waitsOf([string], [waiting(text)]).A?.cents, text).toBeNull();
    expect(waitsOf([string], [waiting("+1"), waiting("+3")]).A?.text).toBe("+3");
    expect(waitsOf([string], [waiting("+1", { refused: "no" })])).toEqual({});
  });

  it("settles within what the server told beforehand", () => {
    expect(["-1", "5", "5.1", "-1.1", "in tune", "The same", "sharp"].map((text) => settles(string, text))).toEqual([
      true, true, false, false, true, true, false,
    ]); // prettier-ignore
  });

  it("may be the answer to what is asked, by its name or as its button says it", () => {
    const options = [{ answer: "not-turned", say: "I haven’t turned it", set: {} }];
    const asked = { advice: { steps: [{ do: "ask", options }] } } as unknown as StringBench;
    expect(answerSaid(asked, "Not turned")?.answer).toBe("not-turned");
    expect(answerSaid(asked, "i haven't turned it!")?.answer).toBe("not-turned");
    expect(answerSaid(asked, "-12")).toBeNull();
  });
});

describe("a move as it was advised", () => {
  it("is entered with what was expected of it; a pull has no amount", () => {
    const turn = { do: "turn-peg", pitch: "raise", amount: 5, unit: "degree", expect_cents: 40, expect_plus_minus: 12 };
    expect(asMade(turn as Parameters<typeof asMade>[0])).toEqual({
      mechanism: "peg", direction: "raise", amount: 5, unit: "degree", expect_cents: 40, expect_plus_minus: 12,
    }); // prettier-ignore
    const pull = { do: "tug-down", pitch: "lower", amount: null } as Parameters<typeof asMade>[0];
    expect(asMade(pull).mechanism).toBe("tug");
    expect([isDone(pull), isDone({ do: "check", amount: null })]).toEqual([true, false]);
  });
});

describe("a double click", () => {
  let pressed: string[] = [];
  const press = (on: Element | null, detail: number, more: MouseEventInit & { pointerType?: string } = {}) =>
    on?.dispatchEvent(new PointerEvent("click", { bubbles: true, cancelable: true, detail, pointerType: "mouse", ...more }));

  beforeAll(keepDoubleClicks);
  beforeEach(() => {
    pressed = [];
    document.body.innerHTML = "<button id=a>Start</button><button id=b>Beneath</button>";
    for (const button of document.querySelectorAll("button")) button.onclick = () => pressed.push(button.textContent);
  });

  it("is two presses of what stays, and one of what changed or moved", () => {
    const [a, b] = [document.querySelector("#a"), document.querySelector("#b")];
    press(a, 1);
    press(a, 2);
    expect(pressed).toEqual(["Start", "Start"]);
    press(b, 1);
    press(a, 2);
    expect(pressed).toEqual(["Start", "Start", "Beneath"]);
    press(a, 1);
    if (a !== null) a.textContent = "Stop";
    press(a, 2);
    expect(pressed).toEqual(["Start", "Start", "Beneath", "Start"]);
    press(a, 0);
    expect(pressed.at(-1), "by key it is meant").toBe("Stop");
  });

  it("of a finger is told by where and how soon", () => {
    const [a, b] = [document.querySelector("#a"), document.querySelector("#b")];
    const finger = { pointerType: "touch", clientX: 500, clientY: 5 };
    press(a, 1, finger);
    press(b, 1, finger);
    expect(pressed).toEqual(["Start"]);
    press(b, 1, { ...finger, clientX: 200 });
    expect(pressed).toEqual(["Start", "Beneath"]);
  });
});
