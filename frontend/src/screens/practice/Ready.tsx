import { Check, Undo2 } from "lucide-react";
import { useState } from "react";
import { Link } from "react-router";

import { useChangePerson, usePeople } from "../../api/people";
import type { Ready as OneReady } from "../../api/practice";
import { useReady } from "../../api/practice";
import { Button } from "../../parts/Button";
import { Trouble } from "../../parts/Trouble";
import { Folded } from "../../parts/Folded";

/** Who has shown all that is wanted for their next clearance, with what stands for it. A teacher clears, with one press. */
export function Ready() {
  const ready = useReady(true);
  const people = usePeople();
  const change = useChangePerson();
  const [done, setDone] = useState<{ one: OneReady; before: number[] } | null>(null);
  if (ready.data === undefined) return <Trouble error={ready.error} />;
  const set = (id: string, cleared: number[], next: typeof done) => {
    change.mutate(
      { id, change: { cleared } },
      {
        onSuccess: () => {
          setDone(next);
          void ready.refetch();
        },
      },
    );
  };
  const clear = (one: OneReady) => {
    const before = people.data?.people.find((each) => each.id === one.person_id)?.cleared ?? [];
    set(one.person_id, [...before, one.stage], { one, before });
  };
  const now = ready.data.people.filter((each) => each.ready);
  const onTheWay = ready.data.people.filter((each) => !each.ready);
  return (
    <section aria-label="Ready for more" className="min-w-0">
      <h2 className="border-b-2 border-ink pb-1 text-xl font-bold">Ready for more</h2>
      {now.length === 0 && (
        <p className="py-2">
          Nobody yet. Whoever has shown everything for their next stage stands here, with what they showed.
        </p>
      )}
      {done !== null && (
        <p role="status" className="flex flex-wrap items-center gap-x-4 py-1">
          <span>
            <b>{done.one.name}</b> is cleared for stage {done.one.stage}.
          </span>
          <Button
            look="quiet"
            disabled={change.isPending}
            onClick={() => {
              set(done.one.person_id, done.before, null);
            }}
          >
            <Undo2 size={18} aria-hidden /> Undo
          </Button>
        </p>
      )}
      <ul className="divide-y divide-rule">
        {now.map((one) => (
          <li key={one.person_id} className="flex flex-col gap-1 py-2">
            <div className="flex flex-wrap items-center justify-between gap-3">
              <p className="text-lg">
                <b>{one.name}</b>: stage {one.stage}, {one.stage_said}
              </p>
              <Button
                disabled={change.isPending || people.data === undefined}
                onClick={() => {
                  clear(one);
                }}
              >
                Clear {one.name.split(" ")[0]} for stage {one.stage}
              </Button>
            </div>
            <Evidence one={one} />
          </li>
        ))}
      </ul>
      {onTheWay.length > 0 && (
        <Folded title={`On the way, ${String(onTheWay.length)}`}>
          <ul className="divide-y divide-rule">
            {onTheWay.map((one) => (
              <li key={one.person_id} className="py-2">
                <Link to={`/practice?who=${one.person_id}`} className="font-bold underline underline-offset-4">
                  {one.name}
                </Link>
                : stage {one.stage}, {one.stage_said}
                <Evidence one={one} />
              </li>
            ))}
          </ul>
        </Folded>
      )}
      <Trouble error={change.error} />
    </section>
  );
}

function Evidence({ one }: { one: OneReady }) {
  return (
    <ul className="text-sm text-pencil">
      {one.evidence.map((each) => (
        <li key={each.drill} className="flex items-start gap-1.5">
          <span className="w-4 shrink-0 pt-0.5">{each.managed && <Check size={15} aria-label="shown" />}</span>
          <span>
            {each.said}: {each.shown}
          </span>
        </li>
      ))}
    </ul>
  );
}
