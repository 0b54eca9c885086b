import { useState } from "react";

import type { Bench, StringFittings } from "../../api/client";
import { useChangeInstrument, useChoices } from "../../api/instruments";
import { Button } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { TailpieceDrawn } from "../first/drawings";

interface FirstLookProps {
  bench: Bench;
  onFittings: (name: string, fittings: StringFittings) => void;
}

/** None fitted, beside the shares of its travel that a look can tell. */
const NONE = Number.POSITIVE_INFINITY;

/** The first look: fine tuners that are to be turned though nobody has looked at them, then pegs and bridge. */
export function FirstLook({ bench, onFittings }: FirstLookProps) {
  const [goesOn, setGoesOn] = useState(false);
  if (goesOn && bench.look_at_screws.length === 0)
    return (
      <PegsAndBridge
        bench={bench}
        onFittings={onFittings}
        onDone={() => {
          setGoesOn(false);
        }}
      />
    );
  return (
    <LookAtScrews
      bench={bench}
      onFittings={(name, fittings) => {
        setGoesOn(true);
        onFittings(name, fittings);
      }}
    />
  );
}

/** How each peg turns and how the bridge stands: what to know before the first turn of a peg. */
function PegsAndBridge({ bench, onFittings, onDone }: FirstLookProps & { onDone: () => void }) {
  const choices = useChoices().data;
  const change = useChangeInstrument();
  const { instrument } = bench;
  const on = instrument.strings.filter((each) => each.state === "on" && each.peg_state !== "out");
  if (choices === undefined) return null;
  return (
    <section
      aria-label="Try the pegs"
      className="flex flex-col gap-3 rounded-lg border border-dashed border-ink/60 bg-sheet p-3 sm:p-4"
    >
      <h2 className="text-lg leading-tight font-bold">And the pegs? And the bridge?</h2>
      <p className="leading-snug">
        Whoever may turn pegs gives each a touch down and back up: does it turn, and stay? Then look at the bridge from the
        side. Press only what differs from what is shown.
      </p>
      {on.map((string) => (
        <Choice
          key={string.name}
          inline
          label={`${string.name} peg`}
          value={string.peg_state}
          options={choices.peg_states.filter(({ value }) => value !== "out")}
          onChange={(peg_state) => {
            onFittings(string.name, { peg_state });
          }}
        />
      ))}
      <Choice
        inline
        label="The bridge"
        value={instrument.bridge}
        options={choices.bridge_states}
        onChange={(bridge) => {
          change.mutate({ id: instrument.id, change: { bridge } });
        }}
      />
      <Button className="self-start" onClick={onDone}>
        That is everything
      </Button>
    </section>
  );
}

/** One look at all the fine tuners, one press each. */
function LookAtScrews({ bench, onFittings }: FirstLookProps) {
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
        Nobody has looked yet; Pondus takes them to stand about half way. One look now saves turning one that is at its end.
      </p>
      {asksWhich && (
        <div className="grid grid-cols-3 gap-2">
          <Seen
            screws="one"
            strings={bench.strings.length}
            said={`Only the ${thinnest}`}
            onPick={() => {
              for (const { name } of unseen) if (name !== thinnest) onFittings(name, { has_fine_tuner: false });
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
              onFittings(string.name, place === NONE ? { has_fine_tuner: false } : { screw_turns: place * reach });
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
