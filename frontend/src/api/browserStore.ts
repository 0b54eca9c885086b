import type { DBSchema, IDBPDatabase } from "idb";
import { openDB } from "idb";

import type { Waiting } from "./outbox/entry";

/**
 * What this browser keeps of the studio: entries that wait to be sent, and what was last seen. A newer page reads what an older
 * one kept: a change of layout comes with a step in `upgrade`, which leaves the entries where they are.
 */
interface Kept extends DBSchema {
  outbox: { key: string; value: Waiting };
  seen: { key: string; value: unknown };
}

/** A page that was left a moment ago may still be closing it. */
const AGAIN_MS = 300;

let opened: Promise<IDBPDatabase<Kept> | null> | undefined;

/** The database; null where the browser has none (a private window, a full disk): then the page's memory is all there is. */
export function browserStore(): Promise<IDBPDatabase<Kept> | null> {
  opened ??= open()
    .catch(() => new Promise((resolve) => setTimeout(resolve, AGAIN_MS)).then(open))
    .catch(() => null);
  return opened;
}

function open(): Promise<IDBPDatabase<Kept>> {
  return openDB<Kept>("pondus", 1, {
    upgrade(database, from) {
      if (from < 1) {
        database.createObjectStore("outbox", { keyPath: "id" });
        database.createObjectStore("seen");
      }
    },
  });
}
