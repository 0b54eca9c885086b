import { QueryClient } from "@tanstack/react-query";

import { KEEP_TRYING } from "./policy";

const A_DAY_MS = 24 * 3600 * 1000;

/** What the server was asked and said, for all screens. */
export const queries = new QueryClient({
  defaultOptions: { queries: { ...KEEP_TRYING, staleTime: 5000, gcTime: A_DAY_MS }, mutations: KEEP_TRYING },
});
