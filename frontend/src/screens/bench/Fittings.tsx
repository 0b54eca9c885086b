import type { Bench, StringFittings } from "../../api/client";
import { useChoices } from "../../api/instruments";
import { Button } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { today } from "../../parts/figures";

interface FittingsProps {
  bench: Bench;
  name: string;
  onFittings: (name: string, fittings: StringFittings) => void;
}

/** What is on one string's place: its screw, its peg, its winding. */
export function Fittings({ bench, name, onFittings }: FittingsProps) {
  const fitted = bench.instrument.strings.find((each) => each.name === name);
  const screw = bench.strings.find((each) => each.name === name)?.fine_tuner ?? null;
  const choices = useChoices().data;
  if (fitted === undefined || choices === undefined) return null;
  const change = (fittings: StringFittings) => {
    onFittings(name, fittings);
  };
  return (
    <fieldset className="flex flex-col gap-4 border-t-2 border-ink pt-3">
      <legend className="float-left w-full text-lg font-bold">The {name} string</legend>
      <label className="flex flex-col gap-1">
        <span className="text-sm font-bold text-pencil">String on since</span>
        <span className="flex flex-wrap gap-2">
          <input
            type="date"
            value={fitted.put_on ?? ""}
            onChange={(event) => {
              change({ put_on: event.target.value === "" ? null : event.target.value });
            }}
            className="min-h-11 rounded-md border border-ink/60 bg-paper px-3"
          />
          <Button
            onClick={() => {
              change({ put_on: today() });
            }}
          >
            New string today
          </Button>
        </span>
      </label>
      <Choice
        label="Core"
        value={fitted.core}
        options={choices.cores}
        onChange={(core) => {
          change({ core });
        }}
      />
      <Choice
        label="Fine tuner"
        value={fitted.has_fine_tuner ? "yes" : "no"}
        options={[
          { value: "yes", said: "fitted" },
          { value: "no", said: "none" },
        ]}
        onChange={(has) => {
          change({ has_fine_tuner: has === "yes" });
        }}
      />
      {screw !== null && (
        <Choice
          label="Its fine tuner stands"
          value={screw.is_seen ? screw.turns_from_middle / screw.reach_turns : Number.NaN}
          options={choices.screw_places}
          onChange={(place) => {
            change({ screw_turns: place * screw.reach_turns });
          }}
        />
      )}
      <Choice
        label="Kind of peg"
        value={fitted.peg_kind}
        options={choices.peg_kinds}
        onChange={(peg_kind) => {
          change({ peg_kind });
        }}
      />
      <Choice
        label="How the peg turns"
        value={fitted.peg_state}
        options={choices.peg_states}
        onChange={(peg_state) => {
          change({ peg_state });
        }}
      />
      <Choice
        label="String wound"
        value={fitted.winding}
        options={choices.windings}
        onChange={(winding) => {
          change({ winding });
        }}
      />
    </fieldset>
  );
}
