import { useState } from "react";

import type { Bench, StringFittings } from "../../api/client";
import { useChoices } from "../../api/instruments";
import { Button } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { TailpieceDrawn } from "../first/drawings";

interface LookAtScrewsProps {
  bench: Bench;
  onFittings: (name: string, fittings: StringFittings) => void;
}

/** None fitted, beside the shares of its travel that a look can tell. */
const NONE = Number.POSITIVE_INFINITY;

/** Fine tuners that are to be turned though nobody has looked at them: one look at all of them, one press each. */
export function LookAtScrews({ bench, onFittings }: LookAtScrewsProps) {
  const [later, setLater] = useState<string | null>(null);
  const [allHave, setAllHave] = useState(false);
  const choices = useChoices().data;
  const unseen = bench.strings.filter((each) => each.fine_tuner?.is_seen === false);
  if (bench.look_at_screws.length === 0 || later === bench.tuning.id || choices === undefined) return null;
  const places = choices.screw_places.filter(({ value }) => Number.isInteger(value));
  const thinnest = bench.strings.at(-1)?.name ?? "";
  const asksWhich = !allHave && unseen.length === bench.strings.length;
  return (
    <section
      aria-label="Look at the fine tuners"
      className="flex flex-col gap-3 rounded-lg border border-dashed border-ink/60 bg-sheet p-3 sm:p-4"
    >
      <h2 className="text-lg leading-tight font-bold">
        {asksWhich ? "Which strings have a fine tuner?" : "How far in are the fine tuners?"}
      </h2>
      <p className="leading-snug">
        Nobody has looked yet; Pondus takes them to stand about half way. One look now saves turning one that
        is at its end.
      </p>
      {asksWhich && (
        <div className="grid grid-cols-3 gap-2">
          <Seen
            screws="one"
            strings={bench.strings.length}
            said={`Only the ${thinnest}`}
            onPick={() => {
              for (const { name } of unseen)
                if (name !== thinnest) onFittings(name, { has_fine_tuner: false });
            }}
          />
          <Seen
            screws="all"
            strings={bench.strings.length}
            said={`All ${String(bench.strings.length)}`}
            onPick={() => {
              setAllHave(true);
            }}
          />
          <Seen
            screws="none"
            strings={bench.strings.length}
            said="None"
            onPick={() => {
              for (const { name } of unseen) onFittings(name, { has_fine_tuner: false });
            }}
          />
        </div>
      )}
      <div className={`flex flex-col gap-2 ${asksWhich ? "hidden" : ""}`}>
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
        {!asksWhich && (
          <Button
            onClick={() => {
              for (const string of unseen) onFittings(string.name, { screw_turns: 0 });
            }}
          >
            All in the middle
          </Button>
        )}
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

interface SeenProps {
  screws: "one" | "all" | "none";
  strings: number;
  said: string;
  onPick: () => void;
}

function Seen({ screws, strings, said, onPick }: SeenProps) {
  return (
    <button
      type="button"
      className="flex flex-col items-center gap-1 rounded-md border-2 border-ink bg-sheet p-2 font-bold hover:bg-lit"
      onClick={onPick}
    >
      <TailpieceDrawn strings={strings} screws={screws} />
      {said}
    </button>
  );
}
