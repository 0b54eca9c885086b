import { useState } from "react";

import type { BroughtList, ListChange } from "../../api/lists";
import { Folded } from "../../parts/Folded";
import { FIELD } from "../../parts/field";

/** Each column with its first cells, and what it is taken for. */
export function Columns({ list, onChange }: { list: BroughtList; onChange: (said: ListChange) => void }) {
  const set = (place: number, field: string) => {
    // What another column was is this one’s now.
    const columns = list.columns.map((each, at) => {
      if (at === place) return field === "" ? null : field;
      return each.field === field ? null : each.field;
    });
    onChange({ columns });
  };
  // What is known needn't stand in the way; what isn't is asked about.
  const [known] = useState(() => list.missing.length === 0 && list.columns.every(({ field }) => field !== null));
  const leftOut = list.columns.flatMap((each, place) => (each.field === null ? [nameOf(each, place)] : []));
  const columns = (
    <>
      <label className="flex flex-wrap items-center gap-2">
        Their names are in
        <select
          className={`${FIELD} max-w-full`}
          value={list.header_line}
          onChange={(event) => {
            onChange({ header_line: Number(event.target.value) });
          }}
        >
          {list.first_lines.map(({ line, said }) => (
            <option key={line} value={line}>
              line {line}: {said}
            </option>
          ))}
        </select>
      </label>
      <div className="grid grid-cols-[minmax(0,1fr)] gap-2 sm:grid-cols-2 lg:grid-cols-3 xl:grid-cols-4">
        {list.columns.map((column, place) => (
          <label
            key={place}
            className={`flex flex-col gap-1 rounded-md border bg-sheet p-2 ${column.field === null ? "border-rule text-pencil" : "border-ink/60"}`}
          >
            <b className="truncate">{nameOf(column, place)}</b>
            <select
              aria-label={`Column ${String(place + 1)}, ${nameOf(column, place)}`}
              className={FIELD}
              value={column.field ?? ""}
              onChange={(event) => {
                set(place, event.target.value);
              }}
            >
              <option value="">left out</option>
              {list.fields.map((each) => (
                <option key={each.name} value={each.name}>
                  {each.said}
                </option>
              ))}
            </select>
            <span className="truncate text-sm">{column.first.filter((each) => each !== "").join(", ")}</span>
          </label>
        ))}
      </div>
    </>
  );
  return (
    <section aria-label="Columns" className="flex flex-col gap-2">
      <h2 className="text-lg font-bold">
        {list.missing.length === 0 ? "Which column is what" : `Say which column is the ${list.missing.join(" and which the ")}`}
      </h2>
      {known ? <Folded title={`All ${String(list.columns.length)} are known`}>{columns}</Folded> : columns}
      {leftOut.length > 0 && (
        <p className="text-lg">
          <b>Not stored</b>: {leftOut.join(", ")}. Choose what a column is to have it stored, too.
        </p>
      )}
    </section>
  );
}

function nameOf({ header }: { header: string }, place: number): string {
  return header === "" ? `column ${String(place + 1)}, without a name` : header;
}
