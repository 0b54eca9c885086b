import type { BroughtList, DateOrder, ListChange, ListKind } from "../../api/lists";
import { Choice } from "../../parts/Choice";
import { LANGUAGE } from "../../parts/figures";

const KINDS: { value: ListKind; said: string }[] = [
  { value: "roll", said: "instruments" },
  { value: "people", said: "people" },
  { value: "readings", said: "readings" },
  { value: "moves", said: "moves" },
  { value: "room", said: "the room’s air" },
  { value: "care", said: "care" },
];
const ORDERS: { value: DateOrder; said: string }[] = [
  { value: "day-first", said: "day first, 25.4.2026" },
  { value: "month-first", said: "month first, 4/25/2026" },
  { value: "year-first", said: "year first, 2026-04-25" },
];

/** What the list holds, and how its dates are written where that isn't plain. */
export function WhatItIs({ list, onChange }: { list: BroughtList; onChange: (said: ListChange) => void }) {
  return (
    <section aria-label="What it is" className="flex flex-wrap items-end gap-6">
      <Choice
        label={`${list.file_name}: ${list.rows.toLocaleString(LANGUAGE)} rows of`}
        value={list.kind}
        options={KINDS}
        onChange={(kind) => {
          onChange({ kind });
        }}
      />
      {list.has_dates && (
        <div>
          <Choice
            label={list.order === null ? "Its dates could be read in two ways. Which is it?" : "Its dates"}
            value={list.order ?? ("" as DateOrder)}
            options={ORDERS}
            onChange={(order) => {
              onChange({ order });
            }}
          />
        </div>
      )}
    </section>
  );
}
