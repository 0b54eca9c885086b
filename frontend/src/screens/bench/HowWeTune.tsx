import { Popover, PopoverButton, PopoverPanel } from "@headlessui/react";
import { SlidersHorizontal } from "lucide-react";

import type { Bench, KindFacts, StringFittings, TuningSettings } from "../../api/client";
import { Choice } from "../../parts/Choice";
import { Fittings } from "./Fittings";
import { KeepAsUsual } from "./KeepAsUsual";

const STANCES: Record<string, string> = {
  lap: "on my lap, strings towards me",
  playing: "under the chin",
  helper: "in the player's lap, I sit at the scroll",
  seated: "playing position, I sit behind it",
  turned: "turned to face me",
};

interface HowWeTuneProps {
  bench: Bench;
  stances: KindFacts["stances"];
  current: string;
  onSettings: (settings: TuningSettings) => void;
  onFittings: (name: string, fittings: StringFittings) => void;
}

/** How this tuning is done: stance, school, reference, approach, tolerance, who turns; and the string's fittings. */
export function HowWeTune({ bench, stances, current, onSettings, onFittings }: HowWeTuneProps) {
  const tuning = bench.tuning;
  return (
    <Popover>
      <PopoverButton className="flex min-h-11 items-center gap-2 rounded-md border border-ink/60 bg-sheet px-3.5 hover:bg-lit">
        <SlidersHorizontal size={18} aria-hidden /> How we tune
      </PopoverButton>
      <PopoverPanel
        anchor={{ to: "bottom end", gap: 6, padding: 12 }}
        className="z-20 flex max-h-[80vh] w-[34rem] max-w-[calc(100vw-24px)] flex-col gap-4 overflow-y-auto rounded-lg border-2 border-ink bg-sheet p-5"
      >
        <Choice
          label="Where the instrument is"
          value={tuning.stance}
          options={stances.map((each) => ({ value: each, label: STANCES[each] ?? each }))}
          onChange={(stance) => {
            onSettings({ stance });
          }}
        />
        <Choice
          label="Fifths"
          value={tuning.fifth_cents < 700.01 ? "tempered" : tuning.fifth_cents > 701.95 ? "pure" : "between"}
          options={[
            { value: "tempered", label: "tempered, as tuners show" },
            { value: "between", label: "between (701)" },
            { value: "pure", label: "pure" },
          ]}
          onChange={(school) => {
            onSettings({ target: school === "between" ? { fifth_cents: 701 } : school });
          }}
        />
        <Choice
          label="When the peg"
          value={tuning.approach}
          options={[
            { value: "fine-tuner-first", label: "only when the screw can't" },
            { value: "right-note-first", label: "past 50 cents" },
            { value: "save-travel", label: "past 20 cents, saving the screw" },
            { value: "pegs-only", label: "always" },
          ]}
          onChange={(approach) => {
            onSettings({ approach });
          }}
        />
        <Choice
          label="Good enough"
          value={String(tuning.tolerance_cents)}
          options={[
            { value: "5", label: "close, ±5" },
            { value: "3", label: "good, ±3" },
            { value: "1", label: "exact, ±1" },
          ]}
          onChange={(tolerance) => {
            onSettings({ tolerance_cents: Number(tolerance) });
          }}
        />
        <Choice
          label="Who turns"
          value={tuning.who}
          options={[
            { value: "teacher", label: "teacher" },
            { value: "adult", label: "another adult" },
            { value: "student-pegs", label: "student, pegs too" },
            { value: "student-fine-tuners", label: "student, screws only" },
          ]}
          onChange={(who) => {
            onSettings({ who });
          }}
        />
        <Choice
          label="A at"
          value={String(tuning.a4)}
          options={[415, 438, 440, 441, 442, 443].map((hz) => ({
            value: String(hz),
            label: `${String(hz)} Hz`,
          }))}
          onChange={(a4) => {
            onSettings({ a4: Number(a4) });
          }}
        />
        <Choice
          label="Strings in this order"
          value={tuning.order}
          options={[
            { value: "A-outward", label: "A, then outwards" },
            { value: "top-down", label: "from the top down" },
            { value: "low-up", label: "from the lowest up" },
          ]}
          onChange={(order) => {
            onSettings({ order });
          }}
        />
        <Choice
          label="Write accidentals as"
          value={tuning.spelling}
          options={[
            { value: "sharps", label: "sharps, F♯" },
            { value: "flats", label: "flats, G♭" },
          ]}
          onChange={(spelling) => {
            onSettings({ spelling });
          }}
        />
        <KeepAsUsual bench={bench} />
        <Fittings bench={bench} name={current} onFittings={onFittings} />
      </PopoverPanel>
    </Popover>
  );
}
