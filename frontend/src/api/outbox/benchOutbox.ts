import { useSyncExternalStore } from "react";

import type { Bench } from "../client";
import type { components } from "../schema";
import { answered, asking, newId, thisTab } from "../client";
import { queries } from "../queries";
import { studioHere } from "../studio";
import type { NewEntry, Waiting } from "./entry";
import { Outbox } from "./outbox";
import { browserShelf } from "./shelf";

export type Swept = components["schemas"]["SweptOut"];
type InstrumentHeard = components["schemas"]["InstrumentHeard"];

/** Where a bench is kept among what was asked. */
export function benchKey(instrument: string): string[] {
  return ["bench", instrument];
}

/** The row of entries of this page: of benches, and of what is heard for the morning. */
export const outbox = new Outbox<Bench | Swept>({
  shelf: browserShelf,
  studio: studioHere,
  send: ({ order, request: { method, path, body } }) => answered(sent(method, path, asWaited(body, order))),
  onStored: ({ instrument }, answer) => {
    if ("log_version" in answer) showBench(instrument, answer);
    else showSwept(answer);
  },
});

/** An entry says how long it waited to be sent. `order`: when it was made, in milliseconds. */
function asWaited(body: object | null, order: number): object | null {
  const seconds = (Date.now() - order) / 1000;
  return body !== null && "device" in body && seconds > 0 ? { ...body, seconds_ago: seconds } : body;
}

/** Show a bench, unless a newer one is shown already. */
function showBench(instrument: string, bench: Bench): void {
  queries.setQueryData<Bench>(benchKey(instrument), (shown) =>
    shown !== undefined && shown.log_version > bench.log_version ? shown : bench,
  );
}

/** An instrument as it is sorted now, among the others; all of them are asked for again. */
function showSwept(swept: Swept): void {
  queries.setQueryData<components["schemas"]["MorningOut"]>(["morning"], (shown) =>
    shown === undefined
      ? shown
      : { ...shown, instruments: shown.instruments.map((each) => (each.id === swept.id ? swept : each)) },
  );
  void queries.invalidateQueries({ queryKey: ["morning"] });
}

async function sent(method: string, path: string, body: object | null) {
  const response = await asking(
    new Request(path, {
      method,
      headers: body === null ? {} : { "Content-Type": "application/json" },
      body: body === null ? null : JSON.stringify(body),
    }),
  );
  const answer: unknown = await response.json().catch(() => undefined);
  return response.ok ? { data: answer as Bench | Swept, response } : { error: answer, response };
}

/** Begin to work: take up what was left, and try anew as soon as there is reason to. */
export function beginOutbox(): void {
  void outbox.takeUp(asThisTab);
  window.addEventListener("online", outbox.kick);
  document.addEventListener("visibilitychange", outbox.kick);
}

/** What an earlier page entered is this tab's now: it must not make what is entered next late. */
function asThisTab(entry: Waiting): Waiting {
  const { body } = entry.request;
  if (body === null || !("device" in body)) return entry;
  return { ...entry, request: { ...entry.request, body: { ...body, device: thisTab() } } };
}

type Entered = Omit<NewEntry, "id" | "begins"> & Partial<Pick<NewEntry, "id" | "begins">>;

/** Enter something at a bench. */
export function enter(entry: Entered): Promise<Bench> {
  return outbox.put({ id: newId(), begins: null, ...entry }) as Promise<Bench>;
}

/** Keep readings of an instrument for the morning. `text`: as the person knows them, while they wait. */
export function enterHeard(label: string, heard: InstrumentHeard, text: string): Promise<Swept> {
  return outbox.put({
    id: newId(),
    begins: null,
    instrument: heard.instrument_id,
    request: { method: "POST", path: "/api/morning/heard", body: heard },
    shown: { what: "change", text: `${label} ${text}` },
  }) as Promise<Swept>;
}

/** All that waits or was refused, in this browser. */
export function useOutbox(): readonly Waiting[] {
  return useSyncExternalStore(outbox.subscribe, outbox.seen);
}

/** What was entered here while another studio stood at this address. */
export function useEntriesElsewhere(): readonly Waiting[] {
  return useSyncExternalStore(outbox.subscribe, outbox.seenElsewhere);
}
