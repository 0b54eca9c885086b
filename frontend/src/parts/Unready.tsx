import { Away, Refused } from "../api/client";
import { ButtonLink } from "./Button";
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
        <div className="flex flex-col items-start gap-4">
          <Trouble error={query.error} />
          {query.error instanceof Refused && (
            <ButtonLink to="/" look="main">
              To where your day begins
            </ButtonLink>
          )}
        </div>
      ) : query.failureReason instanceof Away ? (
        <p role="status">{query.failureReason.message} This page fills by itself as soon as it does.</p>
      ) : (
        `Fetching ${what}…`
      )}
    </main>
  );
}
