import { useState } from "react";

import type { ChainLink, NewCheck } from "../../api/fifths";
import { Button } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { TapButton } from "../../parts/TapButton";

interface TapBeatsProps {
  link: ChainLink;
  onCheck: (check: NewCheck["check"]) => void;
}

type Sounds = Extract<NewCheck["check"], { way: "by-ear" }>;
const SOUNDS: [said: string, heard: Sounds["heard"]][] = [
  ["hollow and still", "still"],
  ["beats slowly", "slow"],
  ["beats fast", "fast"],
  ["rough", "rough"],
];
const AFTER: [said: string, heard: Sounds["heard"], compared: "slower" | "faster" | null][] = [
  ["hollow and still now", "still", null],
  ["slower than before", "slow", "slower"],
  ["faster than before", "fast", "faster"],
];

type Test = "lower raise" | "lower lower" | "upper raise" | "upper lower";

/** How it beats: in a word, or counted by tapping along; the direction is asked for by a small move. */
export function TapBeats({ link, onCheck }: TapBeatsProps) {
  const [taps, setTaps] = useState<number[]>([]);
  const [test, setTest] = useState<Test>("lower raise");
  const asked = link.ask_small_move;
  const [moved, pitch] = test.split(" ") as ["lower" | "upper", "raise" | "lower"];
  const small_move = asked === null ? null : { moved, pitch };
  const keep = () => {
    onCheck({ way: "tapped", taps, small_move });
    setTaps([]);
  };
  const words = asked === null ? SOUNDS.map(([said, heard]) => [said, heard, null] as const) : AFTER;
  return (
    <div role="group" aria-label="Its beats" className="flex flex-col gap-2">
      <h3 className="font-bold">Bow both: how does it sound?</h3>
      {asked !== null && (
        <>
          <p role="status">{asked}</p>
          <Choice
            label="What I turned a hair"
            value={test}
            options={[
              { value: "lower raise", said: `${link.lower} up` },
              { value: "lower lower", said: `${link.lower} down` },
              { value: "upper raise", said: `${link.upper} up` },
              { value: "upper lower", said: `${link.upper} down` },
            ]}
            onChange={setTest}
          />
        </>
      )}
      <div className="flex flex-wrap gap-2">
        {words.map(([said, heard, compared]) => (
          <Button
            key={said}
            onClick={() => {
              onCheck({ way: "by-ear", heard, compared, small_move });
            }}
          >
            {said}
          </Button>
        ))}
      </div>
      <h3 className="font-bold">Or count its beats</h3>
      <div className="flex flex-wrap gap-2">
        <TapButton said="Tap each beat" look="main" className="min-h-16 min-w-36 text-lg" taps={taps} onTaps={setTaps} />
        <Button disabled={taps.length === 0} onClick={keep}>
          That is the beat
        </Button>
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
      </div>
    </div>
  );
}
