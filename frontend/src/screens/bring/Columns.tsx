import { useState } from "react";

import type { BroughtList, ListChange } from "../../api/lists";
import { Folded } from "../../parts/Folded";
import { FIELD } from "../../parts/field";

/** Each column with its first cells, and what it is taken for. */
export function Columns({ list, onChange }: { list: BroughtList; onChange: (said: ListChange) => void }) {
  const set = (header: string, field: string) => {
    const kept = list.columns.filter(
      (each) => each.field !== null && each.header !== header && each.field !== field,
    );
    const columns = Object.fromEntries(kept.map((each) => [each.header, each.field ?? ""]));
    onChange({ columns: field === "" ? columns : { ...columns, [header]: field } });
  };
  // What is known needn't stand in the way; what isn't is asked about.
  const [known] = useState(
    () => list.missing.length === 0 && list.columns.every(({ field }) => field !== null),
  );
  const columns = (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-2 sm:grid-cols-2 lg:grid-cols-3 xl:grid-cols-4">
      {list.columns.map((column) => (
        <label
          key={column.header}
          className={`flex flex-col gap-1 rounded-md border bg-sheet p-2 ${column.field === null ? "border-rule text-pencil" : "border-ink/60"}`}
        >
          <b className="truncate">{column.header === "" ? "(no header)" : column.header}</b>
          <select
            aria-label={`Column ${column.header}`}
            className={FIELD}
            value={column.field ?? ""}
            onChange={(event) => {
              set(column.header, event.target.value);
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
  );
  return (
    <section aria-label="Columns" className="flex flex-col gap-2">
      <h2 className="text-lg font-bold">
        {list.missing.length === 0
          ? "Which column is what"
          : `Say which column is the ${list.missing.join(" and which the ")}`}
      </h2>
      {known ? <Folded title={`All ${String(list.columns.length)} are known`}>{columns}</Folded> : columns}
    </section>
  );
}
