import { browserStore } from "../browserStore";
import type { Shelf } from "./outbox";

/** Waiting entries in the browser's own database; where it has none, they live as long as the page. */
export const browserShelf: Shelf = {
  put: async (entry) => {
    await (await browserStore())?.put("outbox", entry).catch(() => undefined);
  },
  remove: async (id) => {
    await (await browserStore())?.delete("outbox", id).catch(() => undefined);
  },
  all: async () => (await (await browserStore())?.getAll("outbox").catch(() => [])) ?? [],
};
