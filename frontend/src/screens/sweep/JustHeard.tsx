import { Link } from "react-router";

import type { Triaged } from "../../api/morning";

const SAID: Record<Triaged["group"], string> = {
  "teacher-must": "the teacher",
  "student-can": "a student can",
  "not-heard": "still to hear",
  leave: "leave it",
  luthier: "luthier",
};

/** What the last ones heard came to. */
export function JustHeard({ instruments, ids }: { instruments: Triaged[]; ids: string[] }) {
  const heard = ids.flatMap((id) =>
    instruments.filter((each) => each.id === id && each.group !== "not-heard"),
  );
  if (heard.length === 0) return null;
  return (
    <section aria-label="Just heard" className="flex flex-col gap-1">
      <h2 className="text-lg font-bold">Just heard</h2>
      <ul className="divide-y divide-rule border-y border-rule">
        {heard.map((each) => (
          <li key={each.id}>
            <Link
              to={`/bench/${each.id}`}
              className="flex min-h-11 flex-wrap items-center gap-x-3 px-1 hover:bg-lit"
            >
              <b className="min-w-28">{each.label}</b>
              <b>{SAID[each.group]}</b>
              <span>{each.said}</span>
            </Link>
          </li>
        ))}
      </ul>
    </section>
  );
}
