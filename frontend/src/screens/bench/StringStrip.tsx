import type { StringBench } from "../../api/client";
import { signed } from "../../parts/figures";
import type { Waits } from "./waits";

interface StringStripProps {
  strings: StringBench[];
  waits: Record<string, Waits>;
  current: string;
  onChoose: (name: string) => void;
}

/** The strings in one row, where the board itself stands further down. */
export function StringStrip({ strings, waits, current, onChoose }: StringStripProps) {
  return (
    <div role="group" aria-label="Strings" className="flex gap-1.5">
      {strings.map((string) => {
        const word = shortOf(string, waits[string.name]);
        return (
          <button
            key={string.name}
            type="button"
            aria-pressed={string.name === current}
            aria-label={`${string.name} string, ${waits[string.name]?.text ?? string.words}`}
            onClick={() => {
              onChoose(string.name);
            }}
            className={`flex min-h-14 min-w-0 flex-1 flex-col items-center justify-center rounded-md border-2 px-1 leading-tight ${string.name === current ? "border-ink bg-lit" : "border-rule bg-sheet"}`}
          >
            <b className="text-2xl leading-none">{string.name}</b>
            <span className="max-w-full truncate text-sm">{word}</span>
          </button>
        );
      })}
    </div>
  );
}

function shortOf(string: StringBench, waits: Waits | undefined): string {
  if (waits !== undefined) return waits.text;
  if (string.advice === null && string.pending === null) return "to hear";
  const off = string.advice?.cents_off;
  return off == null || string.advice?.state === "in-tune" || string.pending !== null
    ? string.words
    : (string.letter ?? signed(off));
}
