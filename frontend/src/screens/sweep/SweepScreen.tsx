import { ArrowRight, Mic, MicOff } from "lucide-react";
import { useEffect, useRef, useState } from "react";

import type { Triaged } from "../../api/morning";
import { useMorning } from "../../api/morning";
import { Button, ButtonLink } from "../../parts/Button";
import { FIELD } from "../../parts/field";
import { signed } from "../../parts/figures";
import { Heading, keyOfLine } from "../../parts/listed/Heading";
import { Narrow } from "../../parts/listed/Narrow";
import { useNarrowed } from "../../parts/listed/narrowed";
import { Seen } from "../../parts/listed/Seen";
import { LevelMeter } from "../../parts/LevelMeter";
import { listeningWords } from "../../parts/listeningWords";
import { Shell } from "../../parts/Shell";
import { Trouble } from "../../parts/Trouble";
import { Unready } from "../../parts/Unready";
import { NotKept } from "../../parts/WaitingEntries";
import { JustHeard } from "./JustHeard";
import { useSweep } from "./useSweep";

/** Every instrument's four strings, a few seconds each: heard, or typed in one line; then on to the next. */
export function SweepScreen() {
  const morning = useMorning();
  const [chosen, setChosen] = useState<string | null>(null);
  const sweep = useSweep(morning.data?.instruments ?? [], chosen, setChosen);
  usePedal(sweep.stepBy);
  if (morning.data === undefined) {
    return (
      <Shell title="Hear them all">
        <Unready query={morning} what="the instruments" />
      </Shell>
    );
  }
  return (
    <Shell title="Hear them all">
      <main
        id="content"
        tabIndex={-1}
        className="outline-none grid grid-cols-[minmax(0,1fr)] gap-4 py-3 lg:grid-cols-[minmax(0,1.7fr)_minmax(0,1fr)]"
      >
        <div className="flex min-w-0 flex-col gap-4">
          {sweep.current === null ? (
            <AllHeard none={morning.data.instruments.length === 0} atEnd={sweep.rows.length > 0} />
          ) : (
            <Current sweep={sweep} current={sweep.current} />
          )}
          {sweep.refused.map((entry) => (
            <NotKept key={entry.id} entry={entry}>
              <Button
                onClick={() => {
                  sweep.typeAgain(entry);
                }}
              >
                Type it again
              </Button>
            </NotKept>
          ))}
          <JustHeard rows={sweep.rows} onUndo={sweep.undo} />
        </div>
        <Waiting
          instruments={sweep.waiting}
          current={sweep.current?.id ?? null}
          onChoose={(id) => {
            setChosen(id);
          }}
        />
      </main>
    </Shell>
  );
}

/** A page-turn pedal steps the instruments. */
function usePedal(stepBy: (by: number) => void): void {
  const latest = useRef(stepBy);
  useEffect(() => {
    latest.current = stepBy;
  });
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const by = { PageDown: 1, PageUp: -1 }[event.key];
      if (by === undefined) return;
      event.preventDefault();
      latest.current(by);
    };
    window.addEventListener("keydown", onKey);
    return () => {
      window.removeEventListener("keydown", onKey);
    };
  }, []);
}

/** The end of it: on to who does what. */
function AllHeard({ none, atEnd }: { none: boolean; atEnd: boolean }) {
  const on = useRef<HTMLAnchorElement>(null);
  useEffect(() => {
    if (atEnd) on.current?.focus();
  }, [atEnd]);
  if (none) return <p className="py-6 text-3xl font-bold">No instruments yet.</p>;
  return (
    <div className="flex flex-wrap items-center gap-4 py-6">
      <p className="text-3xl font-bold" role="status">
        All are heard.
      </p>
      <ButtonLink look="main" ref={on} to="/morning">
        To the plan <ArrowRight size={20} aria-hidden />
      </ButtonLink>
    </div>
  );
}

function Current({ sweep, current }: { sweep: ReturnType<typeof useSweep>; current: Triaged }) {
  const { listening } = sweep;
  const on = listening.state.status !== "off" && listening.state.status !== "trouble";
  return (
    <section aria-label="Now" className="flex flex-col gap-3 rounded-lg border border-rule bg-sheet p-4">
      <h2 className={`flex flex-wrap items-baseline gap-x-3 font-bold ${on ? "text-5xl md:text-7xl" : "text-4xl"}`}>
        {current.label}
        <span className="text-xl font-normal text-pencil">
          {current.kind} {current.size}
          {current.player !== null && `, ${current.player}`}
        </span>
      </h2>
      <ol className="grid grid-cols-4 gap-2">
        {current.strings.map((name) => (
          <li key={name} className="rounded-md border border-rule bg-paper p-2 text-center">
            <b className={on ? "block text-4xl md:text-6xl" : "block text-2xl"}>{name}</b>
            <StringFigure cents={sweep.heard[name]} said={current.said} name={name} large={on} />
          </li>
        ))}
      </ol>
      <div className="flex flex-wrap items-center gap-3">
        {on ? (
          <Button onClick={listening.stop}>
            <MicOff size={20} aria-hidden /> Stop listening
          </Button>
        ) : (
          <Button look="main" onClick={() => void listening.start()}>
            <Mic size={20} aria-hidden /> Listen
          </Button>
        )}
        <form
          key={current.id}
          className="flex min-w-64 flex-1 items-center gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            sweep.keepLine();
          }}
        >
          <label className="flex min-w-0 flex-1 flex-col gap-1 text-sm font-bold text-pencil">
            or type {current.strings.join(" ")}, in cents
            <input
              className={`${FIELD} w-full min-w-0 text-lg font-normal text-ink`}
              placeholder="-12 3 0 -5"
              autoFocus
              value={sweep.line}
              onChange={(event) => {
                sweep.setLine(event.target.value);
              }}
            />
          </label>
          <Button type="submit" className="self-end" disabled={sweep.line.trim() === ""}>
            Keep
          </Button>
        </form>
      </div>
      {on && (
        <LevelMeter
          look={listening.look}
          heard={
            listening.look?.string == null || listening.look.string_cents == null
              ? "–"
              : `${listening.look.string} ${signed(listening.look.string_cents)}`
          }
          words={sweep.softer === null ? listeningWords(listening.state, listening.look) : sweep.softer.words}
          act={sweep.softer === null ? undefined : { name: "It was this one", onPress: sweep.softer.onTake }}
        />
      )}
      {sweep.unclear !== null && <p role="alert">{sweep.unclear}</p>}
      {listening.state.status === "trouble" && <Trouble error={new Error(listening.state.message)} />}
    </section>
  );
}

interface StringFigureProps {
  cents: number | undefined;
  said: string;
  name: string;
  large: boolean;
}

/** A string as heard just now; heard before, or still to hear. */
function StringFigure({ cents, said, name, large }: StringFigureProps) {
  if (cents !== undefined) {
    return (
      <span className={`${large ? "text-4xl md:text-6xl" : "text-3xl"} font-bold ${cents < 0 ? "text-below" : "text-above"}`}>
        {signed(cents)}
      </span>
    );
  }
  const left = said.startsWith("still to hear") && said.slice(said.indexOf(":")).includes(name);
  return <span className={`${large ? "text-2xl" : "text-lg"} text-pencil`}>{left ? "play it" : "heard"}</span>;
}

interface WaitingProps {
  instruments: Triaged[];
  current: string | null;
  onChoose: (id: string) => void;
}

function Waiting({ instruments, current, onChoose }: WaitingProps) {
  const narrowed = useNarrowed(instruments);
  const [window, setWindow] = useState<HTMLDivElement | null>(null);
  return (
    <section aria-label="Still to hear" className="rounded-lg border border-rule bg-sheet p-4">
      <h2 className="flex justify-between text-lg font-bold">
        Still to hear <span>{instruments.length}</span>
      </h2>
      <Narrow {...narrowed} />
      <div ref={setWindow} className="max-h-[70vh] overflow-y-auto">
        <Seen items={narrowed.lines} keyOf={keyOfLine} height={44} within={window} plain>
          {(line) => ("one" in line ? <Choose one={line.one} current={current} onChoose={onChoose} /> : <Heading {...line} />)}
        </Seen>
      </div>
    </section>
  );
}

interface ChooseProps extends Omit<WaitingProps, "instruments"> {
  one: Triaged;
}

function Choose({ one, current, onChoose }: ChooseProps) {
  return (
    <button
      type="button"
      aria-current={one.id === current}
      className="flex min-h-11 w-full items-center gap-2 rounded-md px-2 py-1.5 text-left hover:bg-lit aria-[current=true]:bg-lit"
      onClick={() => {
        onChoose(one.id);
      }}
    >
      <b>{one.label}</b>
      <span className="text-pencil">
        {one.kind} {one.size}
        {one.player !== null && `, ${one.player}`}
      </span>
    </button>
  );
}
