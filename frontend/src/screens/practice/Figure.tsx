import { useState } from "react";

import type { Answer } from "../../api/practice";
import { Button } from "../../parts/Button";
import { FIELD } from "../../parts/field";
import { TapButton } from "../../parts/TapButton";

interface FigureProps {
  disabled: boolean;
  onAnswer: (counted: Pick<Answer, "figure" | "taps">) => void;
}

/** Beats counted: tapped along (the server makes a rate of it), or typed. */
export function Figure({ disabled, onAnswer }: FigureProps) {
  const [typed, setTyped] = useState("");
  const [taps, setTaps] = useState<number[]>([]);
  const figure = Number(typed.replace(",", "."));
  const usable = typed.trim() !== "" && Number.isFinite(figure) && figure >= 0;
  return (
    <form
      className="flex flex-col gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        if (usable && !disabled) onAnswer({ figure });
        else if (taps.length > 0 && !disabled) onAnswer({ taps });
      }}
    >
      <TapButton said="Tap at each beat" className="min-h-20 text-2xl" disabled={disabled} taps={taps} onTaps={setTaps} />
      {taps.length > 0 && (
        <Button
          look="quiet"
          onClick={() => {
            setTaps([]);
          }}
        >
          Anew
        </Button>
      )}
      <label className="flex items-center gap-3 text-xl">
        or beats a second
        <input
          className={`${FIELD} w-28 text-2xl tabular-nums`}
          inputMode="decimal"
          aria-label="Beats a second"
          value={typed}
          disabled={disabled}
          onChange={(event) => {
            setTyped(event.target.value);
          }}
        />
      </label>
      <Button look="main" type="submit" disabled={(!usable && taps.length === 0) || disabled} className="min-h-14 text-xl">
        That many
      </Button>
    </form>
  );
}
