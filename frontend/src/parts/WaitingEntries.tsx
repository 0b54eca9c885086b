import type { ReactNode } from "react";

import { useAway } from "../api/connection";
import { outbox } from "../api/outbox/benchOutbox";
import type { Waiting } from "../api/outbox/entry";
import { useLasting } from "./useLasting";
import { Button } from "./Button";
import { inWords } from "./entryInWords";

const SOON_MS = 700;

/** What was entered and isn't stored yet, and what the server didn't take, each with the way out. */
export function WaitingEntries({ entries }: { entries: readonly Waiting[] }) {
  const away = useAway();
  const unsent = entries.filter((entry) => entry.refused === null);
  const refused = entries.filter((entry) => entry.refused !== null);
  const lasting = useLasting(unsent.length > 0, SOON_MS);
  return (
    <>
      {lasting && unsent.length > 0 && (
        <p role="status" className="rounded-md border border-dashed border-ink px-3 py-2">
          <b>{unsent.length === 1 ? "1 entry waits" : `${String(unsent.length)} entries wait`}:</b>{" "}
          {unsent.map(({ shown }) => inWords(shown)).join(", ")}.{" "}
          {away ? "Pondus doesn’t answer just now; it keeps trying, and nothing is lost." : "Being stored…"}
        </p>
      )}
      {refused.map((entry) => (
        <NotKept key={entry.id} entry={entry}>
          <Button
            onClick={() => {
              outbox.again(entry.id);
            }}
          >
            Send it again
          </Button>
          <Button
            onClick={() => {
              outbox.drop(entry.id);
            }}
          >
            Leave it out
          </Button>
        </NotKept>
      ))}
    </>
  );
}

/** What the server didn't take, and why; with the ways out. */
export function NotKept({ entry, children }: { entry: Waiting; children: ReactNode }) {
  return (
    <div role="alert" className="flex flex-wrap items-center gap-2 rounded-md border-2 border-above bg-sheet px-3 py-2">
      <p className="min-w-48 flex-1">
        <b>Not kept: {inWords(entry.shown)}.</b> {entry.refused}
      </p>
      {children}
    </div>
  );
}
