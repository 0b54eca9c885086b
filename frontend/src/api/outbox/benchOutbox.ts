import { useSyncExternalStore } from "react";

import type { Bench } from "../client";
import { answered, asking, newId, thisTab } from "../client";
import { queries } from "../queries";
import { studioHere } from "../studio";
import type { NewEntry, Waiting } from "./entry";
import { Outbox } from "./outbox";
import { browserShelf } from "./shelf";

/** Where a bench is kept among what was asked. */
export function benchKey(instrument: string): string[] {
  return ["bench", instrument];
}

/** The row of entries of this page. */
export const outbox = new Outbox({
  shelf: browserShelf,
  studio: studioHere,
  send: ({ request: { method, path, body } }) => answered(sent(method, path, body)),
  onStored: ({ instrument }, bench) => {
    showBench(instrument, bench);
  },
});

/** Show a bench, unless a newer one is shown already. */
export function showBench(instrument: string, bench: Bench): void {
  queries.setQueryData<Bench>(benchKey(instrument), (shown) =>
    shown !== undefined && shown.log_version > bench.log_version ? shown : bench,
  );
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
  return response.ok ? { data: answer as Bench, response } : { error: answer, response };
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

/** Enter something. */
export function enter(
  entry: Omit<NewEntry, "id" | "begins"> & Partial<Pick<NewEntry, "id" | "begins">>,
): Promise<Bench> {
  return outbox.put({ id: newId(), begins: null, ...entry });
}

/** All that waits or was refused, in this browser. */
export function useOutbox(): readonly Waiting[] {
  return useSyncExternalStore(outbox.subscribe, outbox.seen);
}

/** What was entered here while another studio stood at this address. */
export function useEntriesElsewhere(): readonly Waiting[] {
  return useSyncExternalStore(outbox.subscribe, outbox.seenElsewhere);
}
