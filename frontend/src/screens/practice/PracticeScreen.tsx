import { useState } from "react";
import { useNavigate, useSearchParams } from "react-router";

import { useMay, useMe } from "../../api/device";
import type { Kind } from "../../api/instruments";
import { useKinds } from "../../api/instruments";
import type { Drill, Practice, Practiser } from "../../api/practice";
import { useBeginGo, usePractice } from "../../api/practice";
import { Button } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { FIELD } from "../../parts/field";
import { Folded } from "../../parts/Folded";
import { Shell } from "../../parts/Shell";
import { Trouble } from "../../parts/Trouble";
import { Unready } from "../../parts/Unready";
import { DrillLine } from "./DrillLine";
import { Lesson } from "./Lesson";
import { Ready } from "./Ready";

/** The practice room: who practises, on what, and all drills by the stages of a player’s tuning. */
export function PracticeScreen() {
  const [query, setQuery] = useSearchParams();
  const me = useMe().data;
  const teacher = useMay("see-progress");
  const asked = query.get("who");
  const who = asked ?? (teacher ? null : (me?.person_id ?? null));
  const practice = usePractice(who);
  const kinds = useKinds().data ?? [];
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
  const begins = (drill: string, personId: string) => {
    const on = practice.data.people.find((each) => each.id === personId)?.instrument_id ?? null;
    begin.mutate(
      { drill, personId, on: on === null ? { kind } : { instrument_id: on, kind: "violin" } },
      { onSuccess: (go) => void navigate(`/practice/go/${go.go_id ?? ""}`), onError: setError },
    );
  };
  const start = (drill: Drill) => {
    if (person === undefined) void navigate(`/practice/try/${drill.name}?kind=${kind}`);
    else begins(drill.name, person.id);
  };
  const next = person === undefined ? null : practice.data.next;
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
              options={kinds.map(({ kind: each }) => ({ value: each, said: each }))}
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
            <Lesson people={practice.data.people} busy={begin.isPending} onBegin={begins} />
          </div>
        )}
        {person !== undefined && practice.data.at_bench.length > 0 && (
          <p>
            <b>Lately at the bench</b>, seen by teachers alone: {practice.data.at_bench.join("; ")}.
          </p>
        )}
        {person !== undefined && next !== null && (
          <section
            aria-label="Next"
            className="flex flex-wrap items-center justify-between gap-x-6 gap-y-3 rounded-lg border border-rule bg-sheet p-4"
          >
            <div className="min-w-0">
              <h2 className="text-2xl font-bold">{next.said}</h2>
              <p className="text-lg">{next.does}</p>
              <p className="text-pencil">
                Next for {person.name}: {next.why}.
              </p>
            </div>
            <Button
              look="main"
              className="min-h-14 px-6 text-xl"
              disabled={begin.isPending}
              onClick={() => {
                begins(next.drill, person.id);
              }}
            >
              Begin
            </Button>
          </section>
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

/** The stage someone is at with its drills; the other stages, and those for helpers and teachers, at a press. */
function Stages({ practice, person, onStart }: StagesProps) {
  const at = person?.stage ?? null;
  const drillsOf = (is: (drill: Drill) => boolean) => (
    <ul className="divide-y divide-rule border-t border-rule">
      {practice.drills.filter(is).map((drill) => (
        <DrillLine key={drill.name} drill={drill} kept={person !== undefined} onStart={onStart} />
      ))}
    </ul>
  );
  return (
    <div className="flex flex-col divide-y divide-rule border-y-2 border-ink">
      {practice.stages.map((stage) => (
        <Folded
          key={stage.stage}
          label={`Stage ${String(stage.stage)}`}
          title={`${String(stage.stage)} ${stage.said}${person === undefined ? "" : stands(stage, at)}`}
          open={stage.stage === (at ?? 1)}
        >
          {drillsOf((each) => each.stage === stage.stage && !each.staff)}
        </Folded>
      ))}
      {(person === undefined || person.staff) && (
        <Folded title="For helpers and teachers">{drillsOf((each) => each.staff)}</Folded>
      )}
    </div>
  );
}

function stands(stage: Practice["stages"][number], at: number | null): string {
  if (stage.cleared) return " · cleared";
  if (stage.ready) return " · all of it was shown";
  return stage.stage === at ? " · now" : "";
}
