import { FileDown, Printer } from "lucide-react";

import type { CareBook } from "../../api/care";
import { someOf } from "../../parts/figures";

const SAVED = "flex min-h-11 items-center gap-2 rounded-md px-2 hover:bg-lit";

/** What to buy, by instrument, size and string. */
export function Shopping({ book }: { book: CareBook }) {
  return (
    <section aria-label="To buy">
      <h2 className="text-2xl font-bold">To buy</h2>
      {book.shopping.length === 0 ? (
        <p>Nothing for the next {Math.round(book.soon_days / 7)} weeks.</p>
      ) : (
        <ul className="divide-y divide-rule border-y border-rule">
          {bySize(book.shopping).map(([size, wanted]) => (
            <li key={size} className="flex flex-wrap items-baseline gap-x-4 py-1.5">
              <span className="min-w-28">{size}</span>
              <span className="flex flex-1 flex-wrap gap-x-4">
                {wanted.map((each) => (
                  <span key={each.string} className="whitespace-nowrap" title={`for ${each.labels.join(", ")}`}>
                    {each.count} × <b className="text-lg">{each.string}</b>
                  </span>
                ))}
              </span>
              <span className="text-pencil">for {someOf([...new Set(wanted.flatMap((each) => each.labels))])}</span>
            </li>
          ))}
        </ul>
      )}
      {book.shopping.length > 0 && (
        <p className="flex flex-wrap gap-x-2 pt-1">
          <a href="/api/care/shopping.pdf" target="_blank" rel="noreferrer" className={SAVED}>
            <Printer size={18} aria-hidden /> Print the list
          </a>
          <a href="/api/care/shopping.csv" className={SAVED}>
            <FileDown size={18} aria-hidden /> Save as CSV
          </a>
        </p>
      )}
    </section>
  );
}

/** The strings of one kind, size and core together: they hang side by side in a shop. */
function bySize(shopping: CareBook["shopping"]): [string, CareBook["shopping"]][] {
  const groups = new Map<string, CareBook["shopping"]>();
  for (const each of shopping) {
    const size = `${each.kind} ${each.size}${each.core === "steel" ? "" : `, ${each.core}`}`;
    groups.set(size, [...(groups.get(size) ?? []), each]);
  }
  return [...groups];
}
