import { useState } from "react";

import type { Practiser } from "../../api/practice";
import { useLesson } from "../../api/practice";
import { Button } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { countOf, listed } from "../../parts/figures";
import { Trouble } from "../../parts/Trouble";
import { Folded } from "../../parts/Folded";

interface LessonProps {
  people: Practiser[];
  busy: boolean;
  onBegin: (drill: string, personId: string) => void;
}

/** Five minutes of a lesson: who does which drill, as many together as can. */
export function Lesson({ people, busy, onBegin }: LessonProps) {
  const players = people.filter((each) => !each.staff);
  const [present, setPresent] = useState<string[]>([]);
  const [quiet, setQuiet] = useState(true);
  const [devices, setDevices] = useState(1);
  const lesson = useLesson({ people: present.join(), quiet, devices }, players.length > 0);
  if (players.length === 0) return null;
  return (
    <section aria-label="Five minutes of a lesson" className="min-w-0">
      <h2 className="border-b-2 border-ink pb-1 text-xl font-bold">Five minutes of a lesson</h2>
      <label className="flex min-h-11 items-center gap-3">
        <input
          type="checkbox"
          checked={quiet}
          onChange={() => {
            setQuiet(!quiet);
          }}
        />
        It is quiet enough to listen
      </label>
      <Choice
        label="How many devices"
        value={devices}
        options={[1, 2, 3, 5, 10].map((each) => ({ value: each, said: String(each) }))}
        onChange={setDevices}
      />
      <Folded
        title={
          present.length === 0
            ? "For everyone listed for this morning, or else all"
            : `For ${countOf(present.length, "player")}`
        }
        label="For whom"
      >
        <ul className="grid gap-x-4 sm:grid-cols-2">
          {players.map((each) => (
            <li key={each.id}>
              <label className="flex min-h-11 items-center gap-3">
                <input
                  type="checkbox"
                  checked={present.includes(each.id)}
                  onChange={() => {
                    setPresent(present.includes(each.id) ? present.filter((id) => id !== each.id) : [...present, each.id]);
                  }}
                />
                {each.name}
              </label>
            </li>
          ))}
        </ul>
      </Folded>
      <ol className="divide-y divide-rule">
        {lesson.data?.drills.map((drill) => (
          <li key={drill.drill} className="py-2">
            <p className="text-lg">
              <b>{drill.said}</b>, about {drill.minutes} min
            </p>
            <ul className="mt-1 flex flex-wrap gap-1.5">
              {drill.people.map((each) => (
                <li key={each.id}>
                  <Button
                    title={each.why}
                    aria-label={`Begin: ${drill.said}, ${each.name}, ${each.why}`}
                    disabled={busy}
                    onClick={() => {
                      onBegin(drill.drill, each.id);
                    }}
                  >
                    {each.name}
                  </Button>
                </li>
              ))}
            </ul>
          </li>
        ))}
      </ol>
      {lesson.data !== undefined && lesson.data.not_today.length > 0 && (
        <p className="py-2 text-pencil">Next time: {listed(lesson.data.not_today)}.</p>
      )}
      <Trouble error={lesson.error} />
    </section>
  );
}
