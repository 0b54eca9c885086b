import { useState } from "react";

import type { Practiser } from "../../api/practice";
import { useLesson } from "../../api/practice";
import { countOf, listed } from "../../parts/figures";
import { Trouble } from "../../parts/Trouble";

/** Five minutes of a lesson: who does which drill, as many together as can. */
export function Lesson({ people }: { people: Practiser[] }) {
  const players = people.filter((each) => !each.staff);
  const [present, setPresent] = useState<string[]>([]);
  const [quiet, setQuiet] = useState(true);
  const lesson = useLesson(present, quiet, players.length > 0);
  if (players.length === 0) return null;
  return (
    <section aria-label="Five minutes of a lesson" className="min-w-0">
      <h2 className="border-b-2 border-ink pb-1 text-xl font-bold">Five minutes of a lesson</h2>
      <label className="flex min-h-11 items-center gap-3">
        <input
          type="checkbox"
          className="size-5"
          checked={quiet}
          onChange={() => {
            setQuiet(!quiet);
          }}
        />
        There is quiet to listen
      </label>
      <details>
        <summary className="min-h-11 cursor-pointer py-2">
          {present.length === 0
            ? "For whoever is put down for this morning, or else all"
            : `For ${countOf(present.length, "player")}`}
        </summary>
        <ul className="grid gap-x-4 sm:grid-cols-2">
          {players.map((each) => (
            <li key={each.id}>
              <label className="flex min-h-11 items-center gap-3">
                <input
                  type="checkbox"
                  className="size-5"
                  checked={present.includes(each.id)}
                  onChange={() => {
                    setPresent(
                      present.includes(each.id)
                        ? present.filter((id) => id !== each.id)
                        : [...present, each.id],
                    );
                  }}
                />
                {each.name}
              </label>
            </li>
          ))}
        </ul>
      </details>
      <ol className="divide-y divide-rule">
        {lesson.data?.drills.map((drill) => (
          <li key={drill.drill} className="py-2">
            <p className="text-lg">
              <b>{drill.said}</b>, about {drill.minutes} min
            </p>
            <p>{listed(drill.people.map((each) => each.name))}</p>
          </li>
        ))}
      </ol>
      <Trouble error={lesson.error} />
    </section>
  );
}
