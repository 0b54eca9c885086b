import { Link } from "react-router";

import type { CareBook } from "../../api/care";
import { shortDay } from "../../parts/figures";

/** Faults that come back or may: how often, when last, and what to do while hands can still mend them. */
export function Watched({ book }: { book: CareBook }) {
  const seen = book.instruments.flatMap((each) => each.watched.map((fault) => ({ each, fault })));
  if (seen.length === 0) return null;
  return (
    <section aria-label="To watch">
      <h2 className="text-2xl font-bold">To watch</h2>
      <ul className="divide-y divide-rule border-y border-rule">
        {seen.map(({ each, fault }) => (
          <li key={`${each.id}${fault.sign}${fault.string ?? ""}`} className="flex flex-wrap gap-x-4 py-1.5">
            <Link to={`/ledger/${each.id}`} className="min-w-32 text-xl font-bold hover:underline">
              {each.label}
            </Link>
            <span className="min-w-56 flex-1">
              <b>
                {fault.string !== null && `${fault.string}: `}
                {fault.said}
              </b>
              , {fault.count === 1 ? "once" : `${String(fault.count)} times`}, last {shortDay(fault.last)}
              <span className="block text-pencil">{fault.do}</span>
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
