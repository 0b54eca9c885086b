import { QueryClient } from "@tanstack/react-query";

import { KEEP_TRYING } from "./policy";

/** What the server was asked and said, for all screens. */
export const queries = new QueryClient({
  defaultOptions: { queries: { ...KEEP_TRYING, staleTime: 5000 }, mutations: KEEP_TRYING },
});
