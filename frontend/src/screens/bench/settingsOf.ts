import type { Bench } from "../../api/client";
import { outbox } from "../../api/outbox/benchOutbox";

/** How this tuning is done, as it is sent; with what was chosen a moment ago and is still on its way. */
export function settingsOf(bench: Bench) {
  const { a4, fifth_cents, approach, tolerance_cents, stance, who, spelling, order, turning, habits } = bench.tuning;
  return {
    a4,
    target: { fifth_cents },
    approach,
    tolerance_cents,
    stance,
    who,
    spelling,
    order,
    habits,
    ...(turning === null ? {} : { turning }),
    ...chosenSince(bench),
  };
}

function chosenSince(bench: Bench): object {
  const path = `/api/tunings/${bench.tuning.id}`;
  const waiting = outbox.seen().filter(({ request, refused }) => request.path === path && refused === null);
  return Object.assign({}, ...waiting.map(({ request }) => request.body)) as object;
}
