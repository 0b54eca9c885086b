import { LANGUAGE } from "../../parts/figures";
import type { BroughtList } from "../../api/lists";

/** Rows that can't be stored, by their reason; the same one is said once. */
export function BadRows({ list }: { list: BroughtList }) {
  if (list.bad_count === 0) return null;
  return (
    <section aria-label="Rows that can’t be stored" className="flex flex-col gap-1">
      <h2 className="text-lg font-bold">
        {list.bad_count.toLocaleString(LANGUAGE)} {list.bad_count === 1 ? "row" : "rows"} can’t be stored
      </h2>
      <ul className="max-h-80 divide-y divide-rule overflow-y-auto border-y border-rule">
        {bySaid(list.bad).map(([said, lines]) => (
          <li key={said} className="flex gap-4 py-1">
            <b className="w-28 shrink-0 text-right" title={lines.join(", ")}>
              line {lines[0]}
              {lines.length > 1 && ` and ${String(lines.length - 1)} more`}
            </b>
            <span>{said}.</span>
          </li>
        ))}
      </ul>
      {list.bad.length < list.bad_count && <p>The first {list.bad.length} are shown.</p>}
    </section>
  );
}

function bySaid(bad: BroughtList["bad"]): [string, number[]][] {
  const found = new Map<string, number[]>();
  for (const { line, said } of bad) found.set(said, [...(found.get(said) ?? []), line]);
  return [...found];
}
