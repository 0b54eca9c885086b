import { LANGUAGE } from "../../parts/figures";
import type { BroughtList, ListChange } from "../../api/lists";
import { Button } from "../../parts/Button";

/** Rows that can't be stored, by their reason; the same one is said once, and mended once for all. */
export function BadRows({ list, onChange }: { list: BroughtList; onChange: (said: ListChange) => void }) {
  if (list.bad_count === 0) return null;
  return (
    <section aria-label="Rows that can’t be stored" className="flex flex-col gap-1">
      <h2 className="text-lg font-bold">
        {list.bad_count.toLocaleString(LANGUAGE)} {list.bad_count === 1 ? "row" : "rows"} can’t be stored
      </h2>
      <ul className="max-h-80 divide-y divide-rule overflow-y-auto border-y border-rule">
        {bySaid(list.bad).map(([said, lines, { field, word, choices }]) => (
          <li key={said} className="flex flex-wrap items-center gap-x-4 gap-y-1 py-1">
            <b className="w-28 shrink-0 text-right" title={lines.join(", ")}>
              line {lines[0]}
              {lines.length > 1 && ` and ${String(lines.length - 1)} more`}
            </b>
            <span className="min-w-48 flex-1">{said}.</span>
            {field !== null && word !== null && (
              <span className="flex flex-wrap items-center gap-2">
                It is
                {choices.map((choice) => (
                  <Button
                    key={choice}
                    onClick={() => {
                      onChange({ taken_as: { [field]: { [word]: choice } } });
                    }}
                  >
                    {choice}
                  </Button>
                ))}
              </span>
            )}
          </li>
        ))}
      </ul>
      {list.bad.length < list.bad_count && <p>The first {list.bad.length} are shown.</p>}
    </section>
  );
}

function bySaid(bad: BroughtList["bad"]): [string, number[], BroughtList["bad"][number]][] {
  const found = new Map<string, [string, number[], BroughtList["bad"][number]]>();
  for (const row of bad) found.set(row.said, [row.said, [...(found.get(row.said)?.[1] ?? []), row.line], row]);
  return [...found.values()];
}
