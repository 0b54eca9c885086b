import { useState } from "react";

import type { LedgerTuning } from "../../api/ledger";
import { useTuningHistory } from "../../api/ledger";
import { Button } from "../../parts/Button";
import { countOf, written, signed } from "../../parts/figures";
import { Trouble } from "../../parts/Trouble";

const AT_FIRST = 8;

/** Every tuning, newest first; each opens to its readings and moves. */
export function Tunings({ tunings, names }: { tunings: LedgerTuning[]; names: string[] }) {
  const [all, setAll] = useState(false);
  const [open, setOpen] = useState<string | null>(null);
  const newest = [...tunings].reverse();
  const shown = all ? newest : newest.slice(0, AT_FIRST);
  if (tunings.length === 0) return null;
  return (
    <section aria-label="Tunings">
      <h2 className="text-lg font-bold">Tunings</h2>
      <ul className="divide-y divide-rule border-y border-rule">
        {shown.map((each) => (
          <li key={each.id}>
            <button
              type="button"
              aria-expanded={open === each.id}
              className="on-paper flex min-h-11 w-full flex-wrap items-baseline gap-x-4 px-1 py-1.5 text-left hover:bg-lit"
              onClick={() => {
                setOpen(open === each.id ? null : each.id);
              }}
            >
              <b className="min-w-32">
                {written(each.at, {
                  weekday: "short",
                  day: "numeric",
                  month: "short",
                  hour: "2-digit",
                  minute: "2-digit",
                  hourCycle: "h23",
                })}
              </b>
              <span className="flex-1">
                {names.map((name) => (
                  <StringTuned key={name} name={name} string={each.strings[name]} />
                ))}
              </span>
              <span className="text-pencil">
                {countOf(each.moves, "turn")}
                {each.by !== null && `, ${each.by}`}
              </span>
            </button>
            {open === each.id && <Entries tuning={each.id} />}
          </li>
        ))}
      </ul>
      {newest.length > AT_FIRST && (
        <Button
          className="mt-2"
          onClick={() => {
            setAll(!all);
          }}
        >
          {all ? "Only the last few" : `All ${String(newest.length)}`}
        </Button>
      )}
    </section>
  );
}

function StringTuned({ name, string }: { name: string; string: LedgerTuning["strings"][string] | undefined }) {
  if (string === undefined) return null;
  return (
    <span className="mr-4 inline-block whitespace-nowrap">
      {name} {string.found === null ? "?" : signed(string.found)}
      {string.left !== null && string.left !== string.found && ` → ${signed(string.left)}`}
    </span>
  );
}

function Entries({ tuning }: { tuning: string }) {
  const bench = useTuningHistory(tuning);
  if (bench.data === undefined) return bench.isError ? <Trouble error={bench.error} /> : <p>Fetching…</p>;
  return (
    <ol className="mb-2 ml-4 border-l-2 border-rule pl-3">
      {[...bench.data.history].reverse().map((entry) => (
        <li key={entry.id} className={entry.struck ? "text-pencil line-through" : ""}>
          {entry.string}: {entry.text}
        </li>
      ))}
    </ol>
  );
}
