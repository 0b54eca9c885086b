import { useState } from "react";

import type { StringBench } from "../../api/client";
import type { MoveMade } from "../../api/moves";
import { Button } from "../../parts/Button";
import { Choice } from "../../parts/Choice";

/** A move that was made otherwise than advised: which, which way, how much. */
export function MoveForm({ string, onMade }: { string: StringBench; onMade: (move: MoveMade) => void }) {
  const [mechanism, setMechanism] = useState<MoveMade["mechanism"]>(string.fine_tuner === null ? "peg" : "fine-tuner");
  const [direction, setDirection] = useState<MoveMade["direction"]>("raise");
  const [amount, setAmount] = useState("");
  const peg = mechanism === "peg";
  const figure = Number(amount.replace(",", "."));
  const usable = amount.trim() !== "" && Number.isFinite(figure) && figure > 0;
  const mechanisms: { value: MoveMade["mechanism"]; said: string }[] = [{ value: "peg", said: "peg" }];
  if (string.fine_tuner !== null) mechanisms.unshift({ value: "fine-tuner", said: "fine tuner" });
  return (
    <form
      className="flex flex-wrap items-end gap-3 rounded-md border border-rule p-3"
      onSubmit={(event) => {
        event.preventDefault();
        if (usable) onMade({ mechanism, direction, amount: figure, unit: peg ? "degree" : "turn" });
      }}
    >
      <Choice label="Turned the" value={mechanism} options={mechanisms} onChange={setMechanism} />
      <Choice
        label="To make it go"
        value={direction}
        options={[
          { value: "raise", said: "up" },
          { value: "lower", said: "down" },
        ]}
        onChange={setDirection}
      />
      <label className="flex flex-col gap-1">
        <span className="text-sm font-bold text-pencil">{peg ? "By how many degrees" : "By how many turns"}</span>
        <input
          value={amount}
          inputMode="decimal"
          onChange={(event) => {
            setAmount(event.target.value);
          }}
          className="min-h-11 w-28 rounded-md border border-ink/60 bg-paper px-3"
        />
      </label>
      <Button type="submit" look="main" disabled={!usable}>
        Keep this move
      </Button>
    </form>
  );
}
