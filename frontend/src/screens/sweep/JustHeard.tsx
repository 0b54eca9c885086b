import { Link } from "react-router";

import type { Triaged } from "../../api/morning";
import { Button } from "../../parts/Button";
import type { Row } from "./useSweep";

const SAID: Record<Triaged["group"], string> = {
  "teacher-must": "the teacher",
  "student-can": "a student can",
  "not-heard": "not all of it yet",
  leave: "leave it",
  luthier: "luthier",
};

interface JustHeardProps {
  rows: Row[];
  onUndo: (row: Row) => void;
}

/** What the last ones heard came to, with what was kept of each; each can be taken back. */
export function JustHeard({ rows, onUndo }: JustHeardProps) {
  if (rows.length === 0) return null;
  return (
    <section aria-label="Just heard" className="flex flex-col gap-1">
      <h2 className="text-lg font-bold">Just heard</h2>
      <ul className="divide-y divide-rule border-y border-rule" aria-live="polite">
        {rows.map((row) => (
          <li key={row.id} className="flex flex-wrap items-center gap-x-3">
            <Link
              to={`/bench/${row.instrument.id}`}
              className="flex min-h-11 min-w-0 flex-1 flex-wrap items-center gap-x-3 px-1 hover:bg-lit"
            >
              <b className="min-w-28">{row.instrument.label}</b>
              {row.undone ? (
                <span>taken back</span>
              ) : (
                <>
                  <span className="flex flex-wrap gap-x-3">
                    {row.readings?.map((reading) => <span key={reading.id}>{reading.said}</span>) ?? `${row.typed} …`}
                  </span>
                  {row.readings !== null && (
                    <span className="text-pencil">
                      <b>{SAID[row.instrument.group]}</b> {row.instrument.said}
                    </span>
                  )}
                </>
              )}
            </Link>
            {row.readings !== null && !row.undone && (
              <Button
                aria-label={`Undo ${row.instrument.label}`}
                onClick={() => {
                  onUndo(row);
                }}
              >
                Undo
              </Button>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
