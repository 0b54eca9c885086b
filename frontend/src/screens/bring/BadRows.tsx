import { LANGUAGE } from "../../parts/figures";
import type { BroughtList } from "../../api/lists";

/** Every row that can't be stored, with its line and its reason. */
export function BadRows({ list }: { list: BroughtList }) {
  if (list.bad_count === 0) return null;
  return (
    <section aria-label="Rows that can’t be stored" className="flex flex-col gap-1">
      <h2 className="text-lg font-bold">
        {list.bad_count.toLocaleString(LANGUAGE)} {list.bad_count === 1 ? "row" : "rows"} can’t be stored
      </h2>
      <ul className="max-h-80 divide-y divide-rule overflow-y-auto border-y border-rule">
        {list.bad.map((each) => (
          <li key={each.line} className="flex gap-4 py-1">
            <b className="w-20 shrink-0 text-right">line {each.line}</b>
            <span>{each.said}.</span>
          </li>
        ))}
      </ul>
      {list.bad.length < list.bad_count && <p>The first {list.bad.length} are shown.</p>}
    </section>
  );
}
