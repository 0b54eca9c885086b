import { useState } from "react";

import type { Bench, StringFittings } from "../../api/client";
import { Button } from "../../parts/Button";
import { Choice } from "../../parts/Choice";

interface LookAtScrewsProps {
  bench: Bench;
  onFittings: (name: string, fittings: StringFittings) => void;
}

/** Where a screw stands, as a share of its travel from the middle; none fitted. */
const PLACES = [
  { value: "1", said: "all in" },
  { value: "0", said: "about half" },
  { value: "-1", said: "all out" },
  { value: "none", said: "none" },
];

/** Fine tuners that are to be turned though nobody has looked at them: one look at all of them, one press each. */
export function LookAtScrews({ bench, onFittings }: LookAtScrewsProps) {
  const [later, setLater] = useState<string | null>(null);
  const unseen = bench.strings.filter((each) => each.fine_tuner?.is_seen === false);
  if (bench.look_at_screws.length === 0 || later === bench.tuning.id) return null;
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
            value=""
            options={PLACES}
            onChange={(place) => {
              const reach = string.fine_tuner?.reach_turns ?? 0;
              onFittings(
                string.name,
                place === "none" ? { has_fine_tuner: false } : { screw_turns: Number(place) * reach },
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
          All about half
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
