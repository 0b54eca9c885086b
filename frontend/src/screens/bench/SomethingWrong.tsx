import type { Bench, StringFittings } from "../../api/client";
import { useChangeInstrument, useChoices } from "../../api/instruments";
import { Choice } from "../../parts/Choice";
import { Folded } from "../../parts/Folded";
import { Word } from "../../parts/explained/Word";

interface SomethingWrongProps {
  bench: Bench;
  name: string;
  onFittings: (name: string, fittings: StringFittings) => void;
}

/** A string that broke, is missing or floppy, a peg that popped out, a bridge that doesn't stand: one press each. */
export function SomethingWrong({ bench, name, onFittings }: SomethingWrongProps) {
  const choices = useChoices().data;
  const change = useChangeInstrument();
  const fitted = bench.instrument.strings.find((each) => each.name === name);
  if (choices === undefined || fitted === undefined) return null;
  const wrong = bench.instrument.bridge !== "stands" || fitted.state !== "on" || fitted.peg_state === "out";
  return (
    <Folded title="Something wrong?" open={wrong} className="rounded-lg border border-rule bg-sheet px-4 py-2">
      <div className="flex flex-col gap-3">
        <Choice
          label={`The ${name} string`}
          value={fitted.state}
          options={choices.string_states}
          onChange={(state) => {
            onFittings(name, { state });
          }}
        />
        <Choice
          label={`The ${name} peg`}
          value={fitted.peg_state}
          options={choices.peg_states}
          onChange={(peg_state) => {
            onFittings(name, { peg_state });
          }}
        />
        <Choice
          label="The bridge"
          value={bench.instrument.bridge}
          options={choices.bridge_states}
          onChange={(bridge) => {
            change.mutate({ id: bench.instrument.id, change: { bridge } });
          }}
        />
        <p className="text-sm text-pencil">
          <Word term="bridge">Bridge and soundpost</Word>
        </p>
      </div>
    </Folded>
  );
}
