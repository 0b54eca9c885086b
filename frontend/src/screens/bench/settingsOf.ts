import type { Bench } from "../../api/client";

/** How this tuning is done, as it is sent. */
export function settingsOf(bench: Bench) {
  const { a4, fifth_cents, approach, tolerance_cents, stance, who, spelling, order, turning } = bench.tuning;
  return {
    a4,
    target: { fifth_cents },
    approach,
    tolerance_cents,
    stance,
    who,
    spelling,
    order,
    ...(turning === null ? {} : { turning }),
  };
}
