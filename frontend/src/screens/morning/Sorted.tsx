import { Link } from "react-router";

import type { Planned, Triaged } from "../../api/morning";
import { Narrow } from "../../parts/listed/Narrow";
import { useNarrowed } from "../../parts/listed/narrowed";
import { Seen } from "../../parts/listed/Seen";

const GROUPS: [Triaged["group"], string, string][] = [
  ["teacher-must", "Pegs, or with care", "None needs a peg."],
  ["student-can", "Fine tuners only", "None that fine tuners alone would put right."],
  ["not-heard", "Still to hear", "All are heard."],
  ["leave", "Leave as it is", "None is in tune yet."],
  ["luthier", "Luthier", "Nothing waits for the luthier."],
];

/** Every instrument in the group that its newest readings put it in; each leads to its bench. */
export function Sorted({ instruments, planned }: { instruments: Triaged[]; planned: Planned }) {
  const inHand = new Map(
    planned.stations.flatMap((each) => (each.in_hand === null ? [] : [[each.in_hand, each.name] as const])),
  );
  const narrowed = useNarrowed(instruments);
  if (instruments.length === 0) {
    return (
      <p className="text-xl">
        No instruments are kept yet.{" "}
        <Link to="/roll" className="font-bold underline underline-offset-4">
          Add the first one
        </Link>
        ; you can tune it at once.
      </p>
    );
  }
  return (
    <div>
      <Narrow {...narrowed} ways={[]} />
      <div className="grid items-start gap-3 sm:grid-cols-2 lg:grid-cols-3 xl:grid-cols-4">
        {GROUPS.map(([group, title, none]) => {
          const members = narrowed.members.filter((each) => each.group === group);
          return (
            <section key={group} aria-label={title} className="rounded-lg border border-rule bg-sheet p-3">
              <h2 className="flex justify-between text-lg font-bold">
                {title} <span>{members.length}</span>
              </h2>
              {members.length === 0 && <p className="text-pencil">{narrowed.typed.trim() === "" ? none : "None of these."}</p>}
              <Seen items={members} keyOf={(each) => each.id} height={72} plain>
                {(each) => <Member swept={each} by={inHand.get(each.id)} />}
              </Seen>
            </section>
          );
        })}
      </div>
    </div>
  );
}

function Member({ swept, by }: { swept: Triaged; by: string | undefined }) {
  const whole = swept.group === "not-heard" && swept.heard === 0;
  return (
    <Link
      to={`/bench/${swept.id}`}
      className="flex min-h-11 items-baseline justify-between gap-2 rounded-md px-1 py-1.5 leading-snug hover:bg-lit"
    >
      <span className="min-w-0">
        <b>{swept.label}</b>{" "}
        <span className="text-pencil">
          {swept.kind} {swept.size}
          {swept.player !== null && `, ${swept.player}`}
        </span>
        {!whole && <span className="block">{swept.said}</span>}
        {by !== undefined && <b className="block">{by} has it</b>}
      </span>
      {swept.minutes > 0 && <span className="whitespace-nowrap">{Math.max(1, Math.round(swept.minutes))} min</span>}
    </Link>
  );
}
