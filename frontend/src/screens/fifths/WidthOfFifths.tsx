import { useState } from "react";

import type { Fifths } from "../../api/fifths";
import { useChoices } from "../../api/instruments";
import { Word } from "../../parts/explained/Word";
import { plain, signed } from "../../parts/figures";

interface WidthProps {
  fifths: Fifths;
  onWidth: (fifthCents: number) => void;
}

/** How wide this studio's fifths are, from tempered to pure, and what that does to the outermost strings. */
export function WidthOfFifths({ fifths, onWidth }: WidthProps) {
  const choices = useChoices();
  const offered = choices.data?.temperaments ?? [];
  const [tempered, pure] = ["tempered", "pure"].map(
    (name) => offered.find((each) => each.value === name)?.fifth_cents ?? fifths.tuning.fifth_cents,
  );
  const kept = fifths.tuning.fifth_cents;
  const [draft, setDraft] = useState<number | null>(null);
  const shown = draft ?? kept;
  const commit = () => {
    if (draft !== null && draft !== kept) onWidth(draft);
    setDraft(null);
  };
  const { lowest_c_cents: low, violin_e_cents: high, third_from_pure_cents: third } = fifths.effect;
  return (
    <section aria-label="Width of the fifths" className="rounded-lg border border-rule bg-sheet p-4">
      <label className="flex flex-col gap-1">
        <span className="flex justify-between text-lg font-bold">
          Width of the fifths <span>{shown >= (pure ?? Infinity) ? "pure" : `${shown.toFixed(2)} cents`}</span>
        </span>
        <input
          type="range"
          min={tempered}
          max={pure}
          step={0.005}
          value={shown}
          className="h-11 w-full accent-ink"
          onChange={(event) => {
            setDraft(Number(event.target.value));
          }}
          onPointerUp={commit}
          onKeyUp={commit}
          onBlur={commit}
        />
      </label>
      <div className="flex justify-between text-sm text-pencil">
        <span>
          <Word term="tempered">tempered</Word>, as the tuner shows
        </span>
        <span>
          <Word term="pure">pure</Word>, without <Word term="beat">beats</Word>
        </span>
      </div>
      <p className="mt-2">
        A cello’s C stands at <b>{signed(low)}</b> on a tuner, a violin’s E at <b>{signed(high)}</b>; played together they are{" "}
        {plain(third)} cents {third < 0 ? "narrower" : "wider"} than a pure third.
      </p>
    </section>
  );
}
