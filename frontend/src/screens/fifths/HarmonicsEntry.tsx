import { useState } from "react";

import type { ChainLink, NewCheck } from "../../api/fifths";
import { Button } from "../../parts/Button";
import { signed } from "../../parts/figures";

interface HarmonicsEntryProps {
  link: ChainLink;
  onCheck: (check: NewCheck["check"]) => void;
}

/** The two harmonics as a tuner shows them, typed one after the other. */
export function HarmonicsEntry({ link, onCheck }: HarmonicsEntryProps) {
  const [octave, setOctave] = useState("");
  const [twelfth, setTwelfth] = useState("");
  const { how, twelfth_above_octave_cents: apart, should_be_cents: should } = link.harmonics;
  const ready = octave.trim() !== "" && twelfth.trim() !== "";
  return (
    <form
      aria-label="Compare harmonics"
      className="flex flex-col gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        if (ready) onCheck({ way: "harmonics", octave, twelfth });
      }}
    >
      <h3 className="font-bold">Compare its harmonics</h3>
      <p>{how}</p>
      <div className="flex flex-wrap items-end gap-2">
        <Line label={`${link.upper} at half`} value={octave} onChange={setOctave} />
        <Line label={`${link.lower} at a third`} value={twelfth} onChange={setTwelfth} />
        <Button type="submit" disabled={!ready}>
          Keep both
        </Button>
      </div>
      <p className="text-pencil">
        {apart !== null && (
          <>
            {link.lower}’s is now {signed(apart)} against {link.upper}’s.{" "}
          </>
        )}
        Right is {signed(should)}.
      </p>
    </form>
  );
}

function Line({
  label,
  value,
  onChange,
}: {
  label: string;
  value: string;
  onChange: (value: string) => void;
}) {
  return (
    <label className="flex flex-col text-sm font-bold text-pencil">
      {label}
      <input
        className="min-h-11 w-28 rounded-md border border-ink/60 bg-paper px-3 text-lg font-normal text-ink"
        value={value}
        placeholder="−2"
        onChange={(event) => {
          onChange(event.target.value);
        }}
      />
    </label>
  );
}
