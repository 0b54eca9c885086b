import { useState } from "react";

import type { Begin } from "../../api/simulated";
import { Button } from "../Button";
import { Trouble } from "../Trouble";
import { SimulatedDrawing } from "./SimulatedDrawing";
import type { SimulatedPlaying } from "./useSimulatedPlaying";

const STARTS: [Begin["start"], string][] = [
  ["morning", "a morning’s drift"],
  ["one-far-off", "one string far off"],
  ["screw-at-end", "a fine tuner at its end"],
  ["all-slack", "all slack"],
  ["new-strings", "new strings"],
  ["sharp", "sharp from a cold night"],
  [null, "in tune"],
];

interface SimulatedPanelProps {
  playing: SimulatedPlaying;
  /** What can be sounded: single strings, or pairs. */
  choices: string[][];
  lit: { string: string; kind: "peg" | "screw" } | null;
}

/** A simulated instrument in the hands: turn it, bow or pluck it, hear it; what it is truly like it keeps to itself. */
export function SimulatedPanel({ playing, choices, lit }: SimulatedPanelProps) {
  const { seen } = playing;
  const broken = seen?.strings.filter((each) => each.broken).map((each) => each.name) ?? [];
  const hurt = broken.length > 0 || seen?.bridge === "fallen";
  return (
    <section aria-label="Simulated instrument" className="flex flex-col gap-3">
      {seen === null && <Start onBegin={playing.begin} begun={false} />}
      {seen !== null && (
        <>
          {hurt && (
            <div role="alert" className="flex flex-wrap items-center gap-3 rounded-md border-2 border-above bg-sheet px-3 py-2">
              <p className="min-w-52 flex-1 text-lg font-bold">
                {seen.bridge === "fallen" ? "The bridge fell." : `The ${broken.join(" and ")} string broke.`}
              </p>
              <Button look="main" onClick={playing.putRight}>
                {seen.bridge === "fallen" ? "Set it up again" : "Put on a new one"}
              </Button>
            </div>
          )}
          <SimulatedDrawing
            seen={seen}
            pegAngles={playing.pegAngles}
            lit={lit}
            onPeg={playing.turnPeg}
            onScrew={playing.turnScrew}
          />
          <div className="grid gap-2" style={{ gridTemplateColumns: `repeat(${String(choices.length)}, minmax(0, 1fr))` }}>
            {choices.map((names) => (
              <Sounders key={names.join()} names={names} playing={playing} />
            ))}
          </div>
          <div className="flex flex-wrap items-center gap-2">
            <Button aria-pressed={playing.pushed} onClick={playing.togglePushed}>
              {playing.pushed ? "Push in: held" : "Push in: let go"}
            </Button>
            {lit !== null && (
              <Button
                onClick={() => {
                  playing.tug(lit.string);
                }}
              >
                Pull the {lit.string} gently
              </Button>
            )}
            {seen.bridge_leans && seen.bridge === "up" && (
              <Button onClick={playing.easeBridge}>The bridge leans: ease it back</Button>
            )}
            <span className="ml-auto" />
            <Start onBegin={playing.begin} begun />
          </div>
        </>
      )}
      <Trouble error={playing.error} />
    </section>
  );
}

/** Bow it for as long as wanted, or pluck it. */
function Sounders({ names, playing }: { names: string[]; playing: SimulatedPlaying }) {
  const on = playing.bowed.join() === names.join();
  const said = names.join(" and ");
  return (
    <div className="flex flex-wrap justify-center gap-1.5">
      <Button
        look={on ? "main" : "plain"}
        aria-pressed={on}
        aria-label={on ? `Stop bowing ${said}` : `Bow ${said}`}
        onClick={() => {
          playing.bow(on ? [] : names);
        }}
      >
        {on ? "Stop" : `Bow ${names.join("+")}`}
      </Button>
      <Button
        aria-label={`Pluck ${said}`}
        onClick={() => {
          playing.pluck(names);
        }}
      >
        Pluck
      </Button>
    </div>
  );
}

function Start({ onBegin, begun }: { onBegin: (begin: Begin) => void; begun: boolean }) {
  const [start, setStart] = useState<Begin["start"]>("morning");
  return (
    <div className="flex flex-wrap items-center gap-2">
      <label className="flex items-center gap-2">
        Begin with
        <select
          className="min-h-11 rounded-md border border-ink/60 bg-paper px-2"
          value={start ?? ""}
          onChange={(event) => {
            setStart(STARTS.find(([value]) => (value ?? "") === event.target.value)?.[0] ?? null);
          }}
        >
          {STARTS.map(([value, said]) => (
            <option key={said} value={value ?? ""}>
              {said}
            </option>
          ))}
        </select>
      </label>
      <Button
        look={begun ? "plain" : "main"}
        onClick={() => {
          onBegin({ start, seed: Math.floor(Math.random() * 1e6) });
        }}
      >
        {begun ? "Another instrument" : "Take it in hand"}
      </Button>
    </div>
  );
}
