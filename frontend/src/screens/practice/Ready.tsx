import { Check } from "lucide-react";
import { Link } from "react-router";

import { useChangePerson, usePeople } from "../../api/people";
import type { Ready as OneReady } from "../../api/practice";
import { useReady } from "../../api/practice";
import { Button } from "../../parts/Button";
import { Trouble } from "../../parts/Trouble";

/** Who has shown all that is wanted for their next clearance, with what stands for it. A teacher clears, with one press. */
export function Ready() {
  const ready = useReady(true);
  const people = usePeople();
  const change = useChangePerson();
  if (ready.data === undefined) return <Trouble error={ready.error} />;
  const now = ready.data.people.filter((each) => each.ready);
  const onTheWay = ready.data.people.filter((each) => !each.ready);
  const clear = (one: OneReady) => {
    const cleared = people.data?.people.find((each) => each.id === one.person_id)?.cleared ?? [];
    change.mutate(
      { id: one.person_id, change: { cleared: [...cleared, one.stage] } },
      { onSuccess: () => void ready.refetch() },
    );
  };
  return (
    <section aria-label="Ready for more" className="min-w-0">
      <h2 className="border-b-2 border-ink pb-1 text-xl font-bold">Ready for more</h2>
      {now.length === 0 && (
        <p className="py-2">
          Nobody yet. Whoever has shown everything for their next stage stands here, with what they showed.
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
                look="main"
                disabled={change.isPending || people.data === undefined}
                onClick={() => {
                  clear(one);
                }}
              >
                Clear {one.name.split(" ")[0]} for it
              </Button>
            </div>
            <Evidence one={one} />
          </li>
        ))}
      </ul>
      {onTheWay.length > 0 && (
        <details>
          <summary className="min-h-11 cursor-pointer py-2 font-bold">On the way, {onTheWay.length}</summary>
          <ul className="divide-y divide-rule">
            {onTheWay.map((one) => (
              <li key={one.person_id} className="py-2">
                <Link
                  to={`/practice?who=${one.person_id}`}
                  className="font-bold underline underline-offset-4"
                >
                  {one.name}
                </Link>
                : stage {one.stage}, {one.stage_said}
                <Evidence one={one} />
              </li>
            ))}
          </ul>
        </details>
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
          <span className="w-4 shrink-0 pt-0.5">
            {each.managed && <Check size={15} aria-label="shown" />}
          </span>
          <span>
            {each.said}: {each.shown}
          </span>
        </li>
      ))}
    </ul>
  );
}
