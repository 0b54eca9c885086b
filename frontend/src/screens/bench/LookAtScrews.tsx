import { useState } from "react";

import type { Bench, StringFittings } from "../../api/client";
import { useChoices } from "../../api/instruments";
import { Button } from "../../parts/Button";
import { Choice } from "../../parts/Choice";

interface LookAtScrewsProps {
  bench: Bench;
  onFittings: (name: string, fittings: StringFittings) => void;
}

/** None fitted, beside the shares of its travel that a look can tell. */
const NONE = Number.POSITIVE_INFINITY;

/** Fine tuners that are to be turned though nobody has looked at them: one look at all of them, one press each. */
export function LookAtScrews({ bench, onFittings }: LookAtScrewsProps) {
  const [later, setLater] = useState<string | null>(null);
  const choices = useChoices().data;
  const unseen = bench.strings.filter((each) => each.fine_tuner?.is_seen === false);
  if (bench.look_at_screws.length === 0 || later === bench.tuning.id || choices === undefined) return null;
  const places = choices.screw_places.filter(({ value }) => Number.isInteger(value));
  return (
    <section
      aria-label="Look at the fine tuners"
      className="flex flex-col gap-3 rounded-lg border border-dashed border-ink/60 bg-sheet p-3 sm:p-4"
    >
      <h2 className="text-lg leading-tight font-bold">How far in are the fine tuners?</h2>
      <p className="leading-snug">
        Nobody has looked yet; Pondus takes them to stand about half way. One look now saves turning one that
        is at its end.
      </p>
      <div className="flex flex-col gap-2">
        {unseen.map((string) => (
          <Choice
            key={string.name}
            label={`${string.name} fine tuner`}
            value={Number.NaN}
            options={[...places, { value: NONE, said: "none" }]}
            onChange={(place) => {
              const reach = string.fine_tuner?.reach_turns ?? 0;
              onFittings(
                string.name,
                place === NONE ? { has_fine_tuner: false } : { screw_turns: place * reach },
              );
            }}
          />
        ))}
      </div>
      <div className="flex flex-wrap gap-2">
        <Button
          onClick={() => {
            for (const string of unseen) onFittings(string.name, { screw_turns: 0 });
          }}
        >
          All in the middle
        </Button>
        <Button
          look="quiet"
          onClick={() => {
            setLater(bench.tuning.id);
          }}
        >
          Not now
        </Button>
      </div>
    </section>
  );
}
