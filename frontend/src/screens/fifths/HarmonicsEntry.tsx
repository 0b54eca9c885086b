import { FileAudio } from "lucide-react";
import { useRef, useState } from "react";

import type { ChainLink, NewCheck } from "../../api/fifths";
import { hearHarmonic } from "../../api/fifths";
import { Button } from "../../parts/Button";
import { signed } from "../../parts/figures";
import { Trouble } from "../../parts/Trouble";

const BESIDE = [
  ["lower", "below"],
  ["the same", "level"],
  ["higher", "above"],
] as const;

interface HarmonicsEntryProps {
  link: ChainLink;
  onCheck: (check: NewCheck["check"]) => void;
}

/** The two harmonics as a tuner shows them, typed one after the other. */
export function HarmonicsEntry({ link, onCheck }: HarmonicsEntryProps) {
  const [octave, setOctave] = useState("");
  const [twelfth, setTwelfth] = useState("");
  const { how, twelfth_above_octave_cents: apart, should_be_cents: should } = link.harmonics;
  const [trouble, setTrouble] = useState<Error | null>(null);
  const hear = (nearHz: number, keep: (typed: string) => void) => (file: File) => {
    setTrouble(null);
    hearHarmonic(file, nearHz).then(
      (hz) => {
        keep(`${hz.toFixed(2)} Hz`);
      },
      (error: unknown) => {
        setTrouble(error instanceof Error ? error : new Error("That recording could not be heard."));
      },
    );
  };
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
        <Line
          label={`${link.upper} at half`}
          value={octave}
          onChange={setOctave}
          onFile={hear(link.harmonics.octave_hz, setOctave)}
        />
        <Line
          label={`${link.lower} at a third`}
          value={twelfth}
          onChange={setTwelfth}
          onFile={hear(link.harmonics.twelfth_hz, setTwelfth)}
        />
        <Button type="submit" disabled={!ready}>
          Keep both
        </Button>
      </div>
      <Trouble error={trouble} />
      <p className="text-pencil">
        {apart !== null && (
          <>
            {link.lower}’s is now {signed(apart)} against {link.upper}’s.{" "}
          </>
        )}
        Right is {signed(should)}.
      </p>
      <p>
        By ear, {link.lower}’s beside {link.upper}’s:
      </p>
      <div className="flex flex-wrap gap-2">
        {BESIDE.map(([said, heard]) => (
          <Button
            key={heard}
            onClick={() => {
              onCheck({ way: "by-ear", heard });
            }}
          >
            {said}
          </Button>
        ))}
      </div>
    </form>
  );
}

interface LineProps {
  label: string;
  value: string;
  onChange: (value: string) => void;
  onFile: (file: File) => void;
}

/** One harmonic: typed as a tuner shows it, or heard in a recording. */
function Line({ label, value, onChange, onFile }: LineProps) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <div className="flex items-end gap-1">
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
      <Button aria-label={`Hear ${label} in a recording`} onClick={() => input.current?.click()}>
        <FileAudio size={20} aria-hidden />
      </Button>
      <input
        ref={input}
        type="file"
        accept=".wav,.flac,.ogg,audio/*"
        className="hidden"
        aria-label={`Recording of ${label}`}
        onChange={(event) => {
          const file = event.target.files?.[0];
          if (file !== undefined) onFile(file);
          event.target.value = "";
        }}
      />
    </div>
  );
}
