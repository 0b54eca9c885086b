import { useState } from "react";
import { Link } from "react-router";

import type { CareBook, InstrumentCare } from "../../api/care";
import { useAddCare, useStringLife } from "../../api/care";
import { Button } from "../../parts/Button";
import { fits } from "../../parts/find/found";
import { listed, someOf } from "../../parts/figures";
import { FIELD } from "../../parts/field";
import { Narrow } from "../../parts/listed/Narrow";
import { Seen } from "../../parts/listed/Seen";
import { Trouble } from "../../parts/Trouble";

/** Strings by when they are due, soonest first; a new one is entered where it is named. */
export function Due({ book }: { book: CareBook }) {
  const add = useAddCare();
  const life = useStringLife();
  const soon = book.instruments
    .filter((each) => each.strings.some((string) => string.soon))
    .sort((a, b) => leastLeft(a) - leastLeft(b));
  const [typed, setTyped] = useState("");
  const shown = soon.filter((each) => fits(`${each.label} ${each.kind} ${each.size}`, typed));
  const putOn = (instrument: InstrumentCare, names: string[]) => {
    for (const string of names) {
      add.mutate({ instrument: instrument.id, entry: { kind: "string-changed", string, said: "" } });
    }
  };
  const unknown = book.instruments.filter((each) => each.strings.some((string) => string.put_on === null));
  const months = Array.from(
    { length: book.most_life_months - book.least_life_months + 1 },
    (_, place) => book.least_life_months + place,
  );
  return (
    <section aria-label="Strings due">
      <h2 className="text-2xl font-bold">Strings due</h2>
      {soon.length === 0 && <p>None within {Math.round(book.soon_days / 7)} weeks.</p>}
      <Narrow typed={typed} onType={setTyped} shown={shown.length} all={soon.length} />
      <Seen items={shown} keyOf={(each) => each.id} height={64}>
        {(each) => (
          <div className="flex flex-wrap items-center gap-x-4 gap-y-1 py-2">
            <Link to={`/ledger/${each.id}`} className="min-w-32 text-xl font-bold hover:underline">
              {each.label}
            </Link>
            <span className="min-w-28 text-pencil">
              {each.kind} {each.size}
            </span>
            <ul className="flex min-w-56 flex-1 flex-col gap-1">
              {byDay(each).map(([days, names]) => (
                <li key={days} className="flex flex-wrap items-center justify-between gap-2">
                  <span>
                    <b className="text-lg">{names.join(" ")}</b> {whenDue(days)}
                  </span>
                  <Button
                    onClick={() => {
                      putOn(each, names);
                    }}
                  >
                    {names.length === each.strings.length
                      ? "New set is on"
                      : `New ${listed(names)} ${names.length === 1 ? "is" : "are"} on`}
                  </Button>
                </li>
              ))}
            </ul>
          </div>
        )}
      </Seen>
      {unknown.length > 0 && (
        <p className="mt-2 text-pencil">
          Nobody knows how old the strings are on {someOf(unknown.map((each) => each.label))}: say so on the bench, under “How
          we tune”.
        </p>
      )}
      <label className="mt-2 flex flex-wrap items-center gap-2">
        Strings last
        <select
          className={FIELD}
          value={book.string_life_months}
          onChange={(event) => {
            life.mutate(Number(event.target.value));
          }}
        >
          {months.map((each) => (
            <option key={each} value={each}>
              {each} months
            </option>
          ))}
        </select>
        where the hours of playing aren’t known.
      </label>
      <Trouble error={add.error ?? life.error} />
    </section>
  );
}

/** Strings that are due on the same day stand together. */
function byDay(each: InstrumentCare): [number, string[]][] {
  const days = new Map<number, string[]>();
  for (const string of each.strings) {
    if (string.soon && string.days_left !== null) {
      days.set(string.days_left, [...(days.get(string.days_left) ?? []), string.name]);
    }
  }
  return [...days].sort(([a], [b]) => a - b);
}

function leastLeft(each: InstrumentCare): number {
  return Math.min(...each.strings.map((string) => string.days_left ?? Infinity));
}

function whenDue(days: number): string {
  if (days > 0) return days === 1 ? "tomorrow" : `in ${String(days)} days`;
  return days === 0 ? "today" : `${String(-days)} days over`;
}
