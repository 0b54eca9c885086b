import { Pause, Play, Square } from "lucide-react";
import { useState } from "react";
import { Link } from "react-router";

import type { ClassRoutine } from "../../api/classes";
import { useClassRoutine, useStudioSettings } from "../../api/classes";
import { useMay } from "../../api/device";
import type { Kind } from "../../api/instruments";
import { useChoices, useInstruments, useKinds } from "../../api/instruments";
import { Button, ButtonLink } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { Shell } from "../../parts/Shell";
import { Trouble } from "../../parts/Trouble";
import { AFromOutside } from "./AFromOutside";
import { useRoutine } from "./useRoutine";
import { WholeRoom } from "./WholeRoom";

/** A whole class tunes together: a tone steps through the strings, and what everyone does stands large. */
export function ClassScreen() {
  const instruments = useInstruments();
  const all = (useKinds().data ?? []).map((each) => each.kind);
  const settings = useStudioSettings();
  const orders = useChoices().data?.orders ?? [];
  const may = useMay("keep-settings");
  const [own, setOwn] = useState<Kind[] | null>(null);
  const [seconds, setSeconds] = useState<number | null>(null);
  const [order, setOrder] = useState<(typeof orders)[number]["value"] | null>(null);
  const here = all.filter((kind) => instruments.data?.some((each) => each.kind === kind));
  const kinds = own ?? (here.length > 0 ? here : ["violin" as const]);
  const routine = useClassRoutine(kinds, seconds, order);
  const [running, setRunning] = useState(false);
  const [by, setBy] = useState<"tone" | "fifths">("tone");
  const steps = routine.data?.steps.filter((each) => by === "tone" || each.letter === "A");
  return (
    <Shell title="Class">
      <main id="content" tabIndex={-1} className="flex flex-1 flex-col gap-5 py-4 outline-none">
        {running && routine.data !== undefined ? (
          <Running
            routine={{ ...routine.data, steps: steps ?? [] }}
            byFifths={by === "fifths"}
            onStop={() => {
              setRunning(false);
            }}
          />
        ) : (
          <>
            <p className="max-w-2xl text-lg">
              A tone steps through the strings, so long each, and everyone tunes to it together. Whoever doesn’t have that
              string rests or checks another. It stops when you say so.
            </p>
            <div className="flex flex-wrap gap-x-8 gap-y-4">
              <fieldset>
                <legend className="mb-1 text-sm font-bold text-pencil">In the room</legend>
                <div className="flex flex-wrap gap-1.5">
                  {all.map((kind) => (
                    <Button
                      key={kind}
                      aria-pressed={kinds.includes(kind)}
                      look={kinds.includes(kind) ? "main" : "plain"}
                      onClick={() => {
                        const next = all.filter((each) => (each === kind) !== kinds.includes(each));
                        if (next.length > 0) setOwn(next);
                      }}
                    >
                      {kind}s
                    </Button>
                  ))}
                </div>
              </fieldset>
              {routine.data !== undefined && (
                <Choice
                  label="Each string"
                  value={seconds ?? routine.data.steps[0]?.seconds ?? 0}
                  options={routine.data.lengths_s.map((each) => ({ value: each, said: `${String(each)} s` }))}
                  onChange={setSeconds}
                />
              )}
              <Choice
                label="In the order"
                value={order ?? settings.data?.order ?? "A-outward"}
                options={orders}
                onChange={setOrder}
              />
              <Choice
                label="By the tone"
                value={by}
                options={[
                  { value: "tone", said: "every string" },
                  { value: "fifths", said: "the A; the rest by fifths" },
                ]}
                onChange={setBy}
              />
            </div>
            <Button
              look="main"
              className="min-h-16 self-start px-6 text-2xl"
              disabled={routine.data === undefined}
              onClick={() => {
                setRunning(true);
              }}
            >
              <Play size={24} aria-hidden /> Begin
            </Button>
            <Trouble error={routine.error} />
            <WholeRoom />
            {may && <AFromOutside own={settings.data} />}
            <p>
              <Link to="/stage" className="text-lg font-bold underline underline-offset-4">
                Before a stage: what to do, and what to leave alone
              </Link>
            </p>
          </>
        )}
      </main>
    </Shell>
  );
}

interface RunningProps {
  routine: ClassRoutine;
  byFifths: boolean;
  onStop: () => void;
}

/** The routine as it runs: the letter as large as there is room for, and a line for each kind of instrument. */
function Running({ routine, byFifths, onStop }: RunningProps) {
  const run = useRoutine(routine, onStop);
  const step = routine.steps[run.at];
  if (step === undefined) {
    return (
      <section aria-label="Done" className="flex flex-col items-start gap-4">
        <h2 className="text-4xl font-bold">{byFifths ? "Now the rest, by fifths from the A." : "That was every string."}</h2>
        <p className="text-xl">
          {byFifths
            ? "Two neighbours bowed together, softly, until they are hollow and still: D with the A, then the next one outwards."
            : "Hear each instrument now: the morning shows who isn’t in tune yet."}
        </p>
        <WholeRoom />
        <div className="flex flex-wrap gap-3">
          <ButtonLink look="main" to="/sweep" className="min-h-14 text-xl">
            Hear them all
          </ButtonLink>
          <Button className="min-h-14 text-xl" onClick={run.again}>
            Once more
          </Button>
          <Button className="min-h-14 text-xl" onClick={onStop}>
            Done
          </Button>
        </div>
      </section>
    );
  }
  return (
    <section aria-label="Now" className="flex flex-1 flex-col gap-4">
      <div className="flex items-start justify-between gap-4">
        <p
          aria-live="assertive"
          className="text-[9rem] leading-none font-bold sm:text-[14rem]"
          aria-label={`${step.letter} sounds`}
        >
          {step.letter}
        </p>
        <p className="pt-4 text-right text-xl text-pencil">
          {run.at + 1} of {routine.steps.length}
          <br />
          A4 is {routine.a4} Hz
        </p>
      </div>
      <div
        role="progressbar"
        aria-label="Time for this string"
        aria-valuenow={Math.round(run.share * 100)}
        aria-valuemin={0}
        aria-valuemax={100}
        className="h-3 rounded-full border border-ink bg-sheet"
      >
        <div className="h-full rounded-full bg-ink" style={{ width: `${String(100 * run.share)}%` }} />
      </div>
      <ul className="flex flex-col gap-3">
        {step.parts.map((part) => (
          <li
            key={part.kind}
            className={`flex flex-wrap items-baseline gap-x-4 text-3xl sm:text-5xl ${part.does === "tune" ? "font-bold" : "text-pencil"}`}
          >
            <span>{part.who}:</span>
            <span>{part.said}</span>
          </li>
        ))}
      </ul>
      <div className="mt-auto flex flex-wrap gap-3">
        <Button look="main" className="min-h-14 text-xl" onClick={run.toggle}>
          {run.paused ? <Play size={22} aria-hidden /> : <Pause size={22} aria-hidden />}
          {run.paused ? "Go on" : "Wait"}
        </Button>
        <Button className="min-h-14 text-xl" onClick={run.back}>
          The one before
        </Button>
        <Button className="min-h-14 text-xl" onClick={run.next}>
          Next string
        </Button>
        <Button className="min-h-14 text-xl" onClick={onStop}>
          <Square size={20} aria-hidden /> Stop
        </Button>
      </div>
      <p className="text-pencil max-sm:hidden">
        Pedal or keys: Page down next, Page up the one before, Space waits, Escape stops.
      </p>
    </section>
  );
}
