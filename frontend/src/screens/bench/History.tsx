import { Undo2 } from "lucide-react";

import type { EntryRef } from "../../api/bench";
import type { HistoryEntry } from "../../api/client";
import { Button } from "../../parts/Button";
import { clockTime } from "../../parts/figures";
import { Folded } from "../../parts/Folded";

interface HistoryProps {
  entries: HistoryEntry[];
  onStrike: (entry: HistoryEntry) => void;
  onRestore: (entry: EntryRef) => void;
}

/** What was read and turned in this tuning, newest first. Nothing is edited; a wrong entry is struck out. */
export function History({ entries, onStrike, onRestore }: HistoryProps) {
  return (
    <Folded title="This tuning so far" label="History of this tuning" className="pb-8">
      {entries.length === 0 && <p className="py-2 text-pencil">Nothing yet. The first reading comes here.</p>}
      <ol>
        {entries.map((entry) => (
          <li key={`${entry.kind} ${entry.id}`} className="flex min-h-11 items-center gap-3 border-b border-rule">
            <time className="w-20 shrink-0 text-pencil" dateTime={entry.at}>
              {clockTime(entry.at, true)}
            </time>
            <b className="w-6 text-lg">{entry.string}</b>
            <span className={`flex-1 ${entry.struck ? "text-pencil line-through" : ""}`}>
              {entry.kind === "reading" ? "read " : entry.taken ? "" : "turned "}
              {entry.text}
              {entry.source !== null && entry.source !== "typed" && ` (${entry.source})`}
              {entry.by !== null && <span className="text-pencil"> by {entry.by}</span>}
              {entry.late && <i className="text-pencil"> came late, so it doesn’t count</i>}
            </span>
            {entry.struck ? (
              <Button
                look="quiet"
                aria-label={`Bring back: ${entry.string} ${entry.text}`}
                onClick={() => {
                  onRestore(entry);
                }}
              >
                <Undo2 size={18} aria-hidden /> Bring back
              </Button>
            ) : entry.taken ? null : (
              <Button
                look="quiet"
                aria-label={`Strike out: ${entry.string} ${entry.text}`}
                onClick={() => {
                  onStrike(entry);
                }}
              >
                Strike out
              </Button>
            )}
          </li>
        ))}
      </ol>
    </Folded>
  );
}
