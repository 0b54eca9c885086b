import { Fragment, useState } from "react";

import type { Action } from "../../api/practice";
import { Button } from "../../parts/Button";
import type { useHands } from "./useHands";

const FORETOLD = [3, 6, 12, 25, 50];

/** What is said before each turn: nothing turns until it is. A turn goes on until the string is heard again. */
export function useForetelling(asked: boolean, { actions, fresh, hands, act: turn }: ReturnType<typeof useHands>) {
  const [said, setSaid] = useState<number | null>(null);
  const [missing, setMissing] = useState(false);
  const waits = actions.length > 0 && !fresh;
  const act = (action: Action) => {
    if (!asked || waits) turn(action);
    else if (said === null) setMissing(true);
    else {
      setSaid(null);
      turn({ ...action, foretold: said });
    }
  };
  const say = (next: number) => {
    setSaid(next);
    setMissing(false);
  };
  return { act, said, say, missing, waits, told: fresh && said === null ? (hands?.foretold ?? null) : null };
}

/** What the next turn will do, to be said before it; and what came of the last. */
export function Foretold({ said, say, missing, waits, told }: ReturnType<typeof useForetelling>) {
  return (
    <section aria-label="What your turn will do" className="flex flex-col gap-2">
      <h3 className="font-bold">{waits ? "Now pluck it, and see." : "Your next turn will bring it, in cents, about …"}</h3>
      {!waits && (
        <div className="grid grid-cols-[auto_repeat(5,minmax(0,1fr))] items-center gap-1.5">
          {[1, -1].map((way) => (
            <Fragment key={way}>
              <span className="pr-1">{way > 0 ? "up" : "down"}</span>
              {FORETOLD.map((by) => (
                <Button
                  key={by}
                  aria-label={`${way > 0 ? "up" : "down"} ${String(by)}`}
                  aria-pressed={said === way * by}
                  onClick={() => {
                    say(way * by);
                  }}
                >
                  {by}
                </Button>
              ))}
            </Fragment>
          ))}
        </div>
      )}
      {missing && <p role="alert">Say first what your turn will do.</p>}
      {told !== null && (
        <p role="status" className="text-xl font-bold">
          {told}
        </p>
      )}
    </section>
  );
}
