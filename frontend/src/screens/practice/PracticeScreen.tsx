import { useState } from "react";
import { useNavigate, useSearchParams } from "react-router";

import { useMay, useMe } from "../../api/device";
import type { Drill, Practice, Practiser } from "../../api/practice";
import { useBeginGo, usePractice } from "../../api/practice";
import { Choice } from "../../parts/Choice";
import { FIELD } from "../../parts/field";
import { Shell } from "../../parts/Shell";
import { Trouble } from "../../parts/Trouble";
import { Unready } from "../../parts/Unready";
import { DrillLine } from "./DrillLine";
import { Lesson } from "./Lesson";
import { Ready } from "./Ready";

const KINDS = ["violin", "viola", "cello"] as const;
type Kind = (typeof KINDS)[number];

/** The practice room: who practises, on what, and all drills by the stages of a player’s tuning. */
export function PracticeScreen() {
  const [query, setQuery] = useSearchParams();
  const me = useMe().data;
  const teacher = useMay("see-progress");
  const asked = query.get("who");
  const who = asked ?? (teacher ? null : (me?.person_id ?? null));
  const practice = usePractice(who);
  const [kind, setKind] = useState<Kind>("violin");
  const [error, setError] = useState<Error | null>(null);
  const begin = useBeginGo();
  const navigate = useNavigate();
  if (practice.data === undefined) {
    return (
      <Shell title="Practice">
        <Unready query={practice} what="the drills" />
      </Shell>
    );
  }
  const person = practice.data.people.find((each) => each.id === who);
  const start = (drill: Drill) => {
    if (person === undefined) {
      void navigate(`/practice/try/${drill.name}?kind=${kind}`);
      return;
    }
    begin.mutate(
      {
        drill: drill.name,
        personId: person.id,
        on:
          person.instrument_id === null ? { kind } : { instrument_id: person.instrument_id, kind: "violin" },
      },
      {
        onSuccess: (go) => void navigate(`/practice/go/${go.go_id ?? ""}`),
        onError: setError,
      },
    );
  };
  return (
    <Shell title={person === undefined ? "Practice" : `${person.name}: practice`}>
      <main id="content" tabIndex={-1} className="flex flex-col gap-6 py-4 outline-none">
        <div className="flex flex-wrap items-end gap-x-6 gap-y-3">
          {practice.data.people.length > 0 && (
            <WhoPractises
              people={practice.data.people}
              value={who}
              onChange={(id) => {
                setQuery(id === null ? {} : { who: id });
              }}
            />
          )}
          {person?.instrument_id == null && (
            <Choice
              label="On which instrument"
              value={kind}
              options={KINDS.map((each) => ({ value: each, said: each }))}
              onChange={setKind}
            />
          )}
          <p className="max-w-md text-pencil">
            {person === undefined
              ? "Nobody is chosen: try anything; nothing is kept."
              : `What ${person.name} answers is kept with ${person.name}, and seen by teachers alone.`}
          </p>
        </div>
        <Trouble error={error ?? practice.error} />
        {teacher && person === undefined && (
          <div className="grid grid-cols-[minmax(0,1fr)] gap-5 lg:grid-cols-2">
            <Ready />
            <Lesson people={practice.data.people} />
          </div>
        )}
        <Stages practice={practice.data} person={person} onStart={start} />
      </main>
    </Shell>
  );
}

interface WhoProps {
  people: Practiser[];
  value: string | null;
  onChange: (id: string | null) => void;
}

function WhoPractises({ people, value, onChange }: WhoProps) {
  return (
    <label className="flex flex-col gap-1">
      <span className="text-sm font-bold text-pencil">Who practises</span>
      <select
        className={`${FIELD} min-w-56 text-lg`}
        value={value ?? ""}
        onChange={(event) => {
          onChange(event.target.value === "" ? null : event.target.value);
        }}
      >
        <option value="">nobody in particular</option>
        {people.map((each) => (
          <option key={each.id} value={each.id}>
            {each.name}
          </option>
        ))}
      </select>
    </label>
  );
}

interface StagesProps {
  practice: Practice;
  person: Practiser | undefined;
  onStart: (drill: Drill) => void;
}

/** Every stage with its drills, the one someone is at first; those for helpers and teachers after them. */
function Stages({ practice, person, onStart }: StagesProps) {
  const at = person?.stage ?? null;
  const stages = [...practice.stages].sort((a, b) => Number(b.stage === at) - Number(a.stage === at));
  const staff = practice.drills.filter((each) => each.staff);
  return (
    <>
      {stages.map((stage) => (
        <section key={stage.stage} aria-label={`Stage ${String(stage.stage)}`}>
          <h2 className="flex flex-wrap items-baseline gap-x-3 border-b-2 border-ink pb-1 text-xl font-bold">
            <span>
              {stage.stage} {stage.said}
            </span>
            <span className="text-base font-normal text-pencil">
              {person === undefined
                ? ""
                : stage.cleared
                  ? "cleared"
                  : stage.ready
                    ? "all of it was shown"
                    : stage.stage === at
                      ? "now"
                      : ""}
            </span>
          </h2>
          <ul className="divide-y divide-rule">
            {practice.drills
              .filter((each) => each.stage === stage.stage && !each.staff)
              .map((drill) => (
                <DrillLine key={drill.name} drill={drill} kept={person !== undefined} onStart={onStart} />
              ))}
          </ul>
        </section>
      ))}
      {(person === undefined || person.staff) && (
        <section aria-label="For helpers and teachers">
          <h2 className="border-b-2 border-ink pb-1 text-xl font-bold">For helpers and teachers</h2>
          <ul className="divide-y divide-rule">
            {staff.map((drill) => (
              <DrillLine key={drill.name} drill={drill} kept={person !== undefined} onStart={onStart} />
            ))}
          </ul>
        </section>
      )}
    </>
  );
}
