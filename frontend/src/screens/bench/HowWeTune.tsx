import { Popover, PopoverButton, PopoverPanel } from "@headlessui/react";
import { SlidersHorizontal } from "lucide-react";

import { useMay } from "../../api/device";
import type { Bench, Choices, StringFittings, TuningSettings } from "../../api/client";
import { useChoices, useKinds } from "../../api/instruments";
import { Choice } from "../../parts/Choice";
import { Fittings } from "./Fittings";
import { KeepAsUsual } from "./KeepAsUsual";
import { settingsOf } from "./settingsOf";

interface HowWeTuneProps {
  bench: Bench;
  current: string;
  onSettings: (settings: TuningSettings) => void;
  onFittings: (name: string, fittings: StringFittings) => void;
}

/** How this tuning is done: hold, temperament, reference, approach, tolerance, who turns; and the string's fittings. */
export function HowWeTune({ bench, current, onSettings, onFittings }: HowWeTuneProps) {
  const choices = useChoices();
  const keepsSettings = useMay("keep-settings");
  return (
    <Popover>
      <PopoverButton
        title="How we tune"
        className="flex min-h-11 shrink-0 items-center gap-2 rounded-md border border-ink/60 bg-sheet px-3 hover:bg-lit"
      >
        <SlidersHorizontal size={18} aria-hidden /> <span className="max-2xl:sr-only">How we tune</span>
      </PopoverButton>
      <PopoverPanel
        role="dialog"
        aria-label="How we tune"
        focus
        anchor={{ to: "bottom end", gap: 6, padding: 12 }}
        className="z-20 flex max-h-[80vh] w-[34rem] max-w-[calc(100vw-24px)] flex-col gap-4 overflow-y-auto rounded-lg border-2 border-ink bg-sheet p-5"
      >
        {choices.data !== undefined && <Settings bench={bench} choices={choices.data} onSettings={onSettings} />}
        {keepsSettings && <KeepAsUsual bench={bench} />}
        <Fittings bench={bench} name={current} onFittings={onFittings} />
      </PopoverPanel>
    </Popover>
  );
}

function Settings({ bench, choices, onSettings }: Pick<HowWeTuneProps, "bench" | "onSettings"> & { choices: Choices }) {
  const { tuning, instrument } = bench;
  // With what was ticked a moment ago and is still on its way.
  const { habits } = settingsOf(bench);
  const kinds = useKinds();
  const fitting = kinds.data?.find((each) => each.kind === instrument.kind)?.stances ?? [];
  return (
    <>
      <Choice
        label="Where the instrument is"
        value={tuning.stance}
        options={choices.stances.filter((each) => fitting.includes(each.value))}
        onChange={(stance) => {
          onSettings({ stance });
        }}
      />
      <Choice
        label="Fifths"
        value={tuning.temperament}
        options={choices.temperaments}
        onChange={(name) => {
          const chosen = choices.temperaments.find((each) => each.value === name);
          if (chosen !== undefined) onSettings({ target: { fifth_cents: chosen.fifth_cents } });
        }}
      />
      <Choice
        label="When the peg"
        value={tuning.approach}
        options={choices.approaches}
        onChange={(approach) => {
          onSettings({ approach });
        }}
      />
      <fieldset className="print:hidden">
        <legend className="mb-1 text-sm font-bold text-pencil">House rules</legend>
        {choices.habits.map(({ value, said, why, instead_of }) => (
          <label key={value} title={why} className="flex min-h-11 items-center gap-2.5 py-1.5 leading-snug">
            <input
              type="checkbox"
              checked={habits.includes(value)}
              onChange={(event) => {
                const others = habits.filter((each) => each !== value && each !== instead_of);
                onSettings({ habits: event.target.checked ? [...others, value] : others });
              }}
            />
            {said}
          </label>
        ))}
      </fieldset>
      <Choice
        label="Good enough"
        value={tuning.tolerance_cents}
        options={choices.tolerances}
        onChange={(tolerance_cents) => {
          onSettings({ tolerance_cents });
        }}
      />
      <Choice
        label="Who turns"
        value={tuning.who}
        options={choices.who}
        onChange={(who) => {
          onSettings({ who });
        }}
      />
      <Choice
        label="A hand turns"
        value={tuning.turns}
        options={choices.turnings}
        onChange={(turning) => {
          onSettings({ turning });
        }}
      />
      <Choice
        label="A at"
        value={tuning.a4}
        options={choices.a4}
        onChange={(a4) => {
          onSettings({ a4 });
        }}
      />
      <Choice
        label="Strings in this order"
        value={tuning.order}
        options={choices.orders}
        onChange={(order) => {
          onSettings({ order });
        }}
      />
      <Choice
        label="Notes are called"
        value={tuning.spelling}
        options={choices.spellings}
        onChange={(spelling) => {
          onSettings({ spelling });
        }}
      />
    </>
  );
}
