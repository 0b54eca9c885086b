import { Link } from "react-router";

import type { Swept } from "../../api/morning";

const GROUPS: [Swept["group"], string, string][] = [
  ["teacher-must", "The teacher", "None needs the teacher."],
  ["student-can", "A student can", "None for students just now."],
  ["not-heard", "Still to hear", "All are heard."],
  ["leave", "Leave", "None is in tune yet."],
  ["luthier", "Luthier", "None waits for the luthier."],
];

/** Every instrument in the group that its newest readings put it in; each leads to its bench. */
export function Sorted({ instruments }: { instruments: Swept[] }) {
  return (
    <div className="grid gap-3 sm:grid-cols-2 lg:grid-cols-3">
      {GROUPS.map(([group, title, none]) => {
        const members = instruments.filter((each) => each.group === group);
        return (
          <section key={group} aria-label={title} className="rounded-lg border border-rule bg-sheet p-3">
            <h2 className="flex justify-between text-lg font-bold">
              {title} <span>{members.length}</span>
            </h2>
            {members.length === 0 && <p className="text-pencil">{none}</p>}
            <ul>
              {members.map((each) => (
                <li key={each.id}>
                  <Link
                    to={`/bench/${each.id}`}
                    className="flex min-h-11 items-baseline justify-between gap-2 rounded-md px-1 py-1.5 hover:bg-lit"
                  >
                    <span>
                      <b>{each.label}</b>{" "}
                      <span className="text-pencil">
                        {each.kind} {each.size}
                      </span>
                      <br />
                      {each.said}
                    </span>
                    {each.minutes > 0 && (
                      <span className="whitespace-nowrap">{Math.ceil(each.minutes)} min</span>
                    )}
                  </Link>
                </li>
              ))}
            </ul>
          </section>
        );
      })}
    </div>
  );
}
