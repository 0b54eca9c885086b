import { Away } from "../api/client";
import { Trouble } from "./Trouble";

interface Asked {
  isError: boolean;
  error: Error | null;
  failureReason: Error | null;
}

/** What stands in a screen until what it shows has come. `what`: in words, as in “Fetching the roll…”. */
export function Unready({ query, what }: { query: Asked; what: string }) {
  return (
    <main id="content" tabIndex={-1} className="py-8 text-xl outline-none">
      {query.isError ? (
        <Trouble error={query.error} />
      ) : query.failureReason instanceof Away ? (
        <p role="status">{query.failureReason.message} This page fills by itself as soon as it does.</p>
      ) : (
        `Fetching ${what}…`
      )}
    </main>
  );
}
