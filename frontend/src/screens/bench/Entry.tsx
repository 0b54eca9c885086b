import { CornerDownLeft } from "lucide-react";
import type { KeyboardEvent, ReactNode, RefObject } from "react";

import { Button } from "../../parts/Button";
import { Trouble } from "../../parts/Trouble";

interface EntryProps {
  inputRef: RefObject<HTMLInputElement | null>;
  string: string;
  text: string;
  error: Error | null;
  onText: (text: string) => void;
  onKeep: () => void;
  onKey: (event: KeyboardEvent<HTMLInputElement>) => void;
  /** What answers the line. */
  children?: ReactNode;
}

/** One line to type what the tuner shows. */
export function Entry({ inputRef, string, text, error, onText, onKeep, onKey, children }: EntryProps) {
  return (
    <form
      className="flex flex-col gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        onKeep();
      }}
    >
      <label className="font-bold max-sm:sr-only" htmlFor="entry">
        What does the tuner show for the {string} string?
      </label>
      <div className="flex gap-2">
        <input
          id="entry"
          ref={inputRef}
          value={text}
          autoComplete="off"
          autoCapitalize="characters"
          spellCheck={false}
          placeholder={`${string} shows −12 …`}
          onChange={(event) => {
            onText(event.target.value);
          }}
          onKeyDown={onKey}
          className="min-h-14 min-w-0 flex-1 basis-24 rounded-md sm:basis-48 border-2 border-ink bg-sheet px-3 text-2xl font-bold placeholder:text-lg placeholder:font-normal placeholder:text-pencil"
        />
        <Button
          className="min-h-14 min-w-14 text-2xl"
          aria-label="Flat"
          title="Flat: minus"
          onClick={() => {
            onText(withSign(text, "−"));
            inputRef.current?.focus();
          }}
        >
          −
        </Button>
        <Button
          className="min-h-14 min-w-14 text-2xl"
          aria-label="Sharp"
          title="Sharp: plus"
          onClick={() => {
            onText(withSign(text, "+"));
            inputRef.current?.focus();
          }}
        >
          +
        </Button>
        <Button type="submit" look="main" className="min-h-14 px-4 sm:px-5">
          <span className="max-sm:sr-only">Keep</span> <CornerDownLeft size={18} aria-hidden />
        </Button>
      </div>
      {children}
      <Trouble error={error} />
    </form>
  );
}

/** The text with its sign set: a new sign in front of the last figure, or after a note. */
function withSign(text: string, sign: "−" | "+"): string {
  const match = /^(.*?)([+\-−]?)(\s*\d*(?:[.,]\d*)?)$/.exec(text);
  const note = /^\s*[A-Ga-g][#♯b♭]?\d?$/.test(text);
  if (note) return `${text} ${sign}`;
  return match === null ? sign : `${match[1] ?? ""}${sign}${match[3] ?? ""}`;
}
