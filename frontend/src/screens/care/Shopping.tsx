import type { CareBook } from "../../api/care";

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
                  <span
                    key={each.string}
                    className="whitespace-nowrap"
                    title={`for ${each.labels.join(", ")}`}
                  >
                    {each.count} × <b className="text-lg">{each.string}</b>
                  </span>
                ))}
              </span>
              <span className="text-pencil">
                for {[...new Set(wanted.flatMap((each) => each.labels))].join(", ")}
              </span>
            </li>
          ))}
        </ul>
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
