import { Eye } from "lucide-react";
import type { ReactNode } from "react";
import { useEffect, useEffectEvent, useState } from "react";

import type { Action, Go, Hands, Question, Task } from "../../api/practice";
import { askSound } from "../../api/practice";
import { heightOf } from "../../parts/board/boardScale";
import { Weight } from "../../parts/board/Weight";
import { Button } from "../../parts/Button";
import { SimulatedDrawing } from "../../parts/simulated/SimulatedDrawing";
import { Trouble } from "../../parts/Trouble";
import { useTone } from "../../sound/useTone";
import type { Loudspeaker } from "../../sound/practice";
import { ToneButton } from "../bench/ToneButton";
import { Foretold, useForetelling } from "./Foretold";
import { PegFromTheSide } from "./PegFromTheSide";
import { useHands } from "./useHands";

interface HandsPanelProps {
  go: Go;
  question: Question;
  loudspeaker: Loudspeaker;
  done: boolean;
  /** How it was, once it is done. */
  result: ReactNode;
  onDone: (actions: Action[], stopped: boolean, seen: boolean) => void;
}

/** The simulated instrument in hand: pluck or bow it, turn it, say when it is home, or hand it to someone. */
export function HandsPanel({ go, question, loudspeaker, done, result, onDone }: HandsPanelProps) {
  const inHands = useHands(go, loudspeaker);
  const [seen, setSeen] = useState(false);
  const [pegTried, setPegTried] = useState(false);
  const foretelling = useForetelling(question.task?.foretells === true, inHands);
  const { hands } = inHands;
  const task = question.task;
  const onKey = useEffectEvent((event: KeyboardEvent) => {
    if (done || event.target instanceof HTMLButtonElement) return;
    if (event.key !== " " && event.key !== "PageDown") return;
    event.preventDefault();
    if (task?.how === "bow") inHands.bow(!inHands.bowing);
    else inHands.pluck();
  });
  useEffect(() => {
    window.addEventListener("keydown", onKey);
    return () => {
      window.removeEventListener("keydown", onKey);
    };
  }, []);
  if (task === null || hands === null) return <p className="text-lg">Taking it in hand…</p>;
  const string = inHands.strings?.[0] ?? task.string;
  const names = task.fifth === null ? string : task.fifth.join(" and ");
  const bow = task.how === "bow";
  const pegs = task.with_pegs || inHands.actions.some((action) => action.degrees != null);
  return (
    <section
      aria-label="Instrument in hand"
      className="grid grid-cols-[minmax(0,1fr)] gap-4 lg:grid-cols-[minmax(0,1.4fr)_minmax(0,1fr)] lg:gap-6"
    >
      <div className="flex min-w-0 flex-col gap-4">
        {task.display && <Display key={string} hands={hands} task={{ ...task, string }} shown={inHands.fresh} />}
        {!task.display && task.whole && !done && <StringTone go={go} string={task.shows === "fifths" ? "A" : string} />}
        {!task.display && question.sounds && <Along go={go} loudspeaker={loudspeaker} />}
        {task.foretells && !done && <Foretold {...foretelling} />}
        {seen && hands.beats_hz !== null && <Beating hz={hands.beats_hz} />}
        <SimulatedDrawing
          seen={{ ...hands, bridge_leans: false }}
          pegAngles={inHands.pegAngles}
          lit={null}
          onPeg={(string, degrees) => {
            if (done) return;
            if (task.with_pegs) foretelling.act({ string, degrees, pushed: inHands.pushed, tug: false });
            else setPegTried(true);
          }}
          onScrew={(string, turns) => {
            if (!done) foretelling.act({ string, turns, pushed: true, tug: false });
          }}
        />
        {pegTried && !done && (
          <p role="alert" className="rounded-md border-2 border-ink bg-sheet px-3 py-2">
            Pegs stay as they are here: this one is done with the fine tuner, or handed to your teacher.
          </p>
        )}
        {hands.peg !== null && !done && <PegFromTheSide peg={hands.peg} pushed={inHands.pushed} />}
        {hands.events.map((event) => (
          <p key={event} role="alert" className="rounded-md border-2 border-above bg-sheet px-3 py-2 text-lg font-bold">
            {event}
          </p>
        ))}
      </div>
      <div className="flex min-w-0 flex-col gap-4">
        {!done && (
          <div className="flex flex-wrap gap-2">
            {task.whole && (
              <Strings
                names={go.strings.map((each) => each.name)}
                pairs={task.shows === "fifths"}
                sounding={inHands.bowing ? inHands.strings : null}
                onBow={inHands.bowThese}
              />
            )}
            {task.whole ? (
              inHands.bowing && (
                <Button
                  onClick={() => {
                    inHands.bow(false);
                  }}
                >
                  Stop bowing
                </Button>
              )
            ) : bow ? (
              <Button
                look={inHands.bowing ? "plain" : "main"}
                aria-pressed={inHands.bowing}
                className="min-h-14 text-xl"
                onClick={() => {
                  inHands.bow(!inHands.bowing);
                }}
              >
                {inHands.bowing ? "Stop bowing" : `Bow ${names}`}
              </Button>
            ) : (
              <Button look="main" className="min-h-14 text-xl" onClick={inHands.pluck}>
                Pluck the {task.string}
              </Button>
            )}
            {pegs && (
              <Button aria-pressed={inHands.pushed} onClick={inHands.togglePushed}>
                {inHands.pushed ? "Pegs: pushing in" : "Pegs: not pushing"}
              </Button>
            )}
            <Button
              onClick={() => {
                inHands.act({ string, tug: true, pushed: true });
              }}
            >
              Pull the {string} gently
            </Button>
            {task.fifth !== null && !seen && (
              <Button
                look="quiet"
                onClick={() => {
                  setSeen(true);
                }}
              >
                <Eye size={20} aria-hidden /> Show the beats
              </Button>
            )}
          </div>
        )}
        {!done && (
          <div className="flex flex-wrap gap-2">
            <Button
              look="main"
              className="min-h-14 text-xl"
              onClick={() => {
                inHands.bow(false);
                loudspeaker.stopAlong();
                onDone(inHands.actions, false, seen);
              }}
            >
              {task.whole ? "All are in tune" : task.display ? "It is in tune" : "It is right"}
            </Button>
            {task.display && !task.whole && (
              <Button
                className="min-h-14 text-xl"
                onClick={() => {
                  inHands.bow(false);
                  onDone(inHands.actions, true, seen);
                }}
              >
                Hand it to my teacher
              </Button>
            )}
          </div>
        )}
        {result}
        <Trouble error={inHands.error} />
      </div>
    </section>
  );
}

interface StringsProps {
  names: string[];
  /** Neighbours can be bowed together. */
  pairs: boolean;
  sounding: string[] | null;
  onBow: (strings: string[]) => void;
}

/** What can be bowed of a whole instrument. */
function Strings({ names, pairs, sounding, onBow }: StringsProps) {
  const together = pairs ? names.slice(1).map((name, place) => [names[place] ?? "", name]) : [];
  return (
    <div role="group" aria-label="Bow" className="flex w-full flex-wrap gap-2">
      {[...names.map((name) => [name]), ...together].map((these) => (
        <Button
          key={these.join()}
          className="min-h-14 text-xl"
          aria-pressed={sounding?.join() === these.join()}
          onClick={() => {
            onBow(these);
          }}
        >
          Bow {these.join(" and ")}
        </Button>
      ))}
    </div>
  );
}

/** A string’s tone, for as long as wanted; it follows to the next. */
function StringTone({ go, string }: { go: Go; string: string }) {
  const { sounding, sound, stop } = useTone();
  const start = () => void sound({ instrument: go.kind, string, ...go.tuned });
  return (
    <ToneButton
      tone={{
        string,
        sounding: sounding?.string ?? null,
        onSound: sounding === null ? start : stop,
        onFollow: () => {
          if (sounding !== null && sounding.string !== string) start();
        },
      }}
      octaves={0}
      follows
      look={sounding === null ? "main" : "plain"}
      className="min-h-14 self-start text-xl"
    />
  );
}

interface DisplayProps {
  hands: Hands;
  task: Task;
  shown: boolean;
}

const WIDTH = 120;
const HEIGHT = 250;
const REST = 125;

/** What a tuner beside it shows, with the weight on its strand; pale where the string was turned since it last sounded. */
function Display({ hands, task, shown }: DisplayProps) {
  const bow = task.how === "bow";
  const [last, setLast] = useState<{ shows: string; cents: number | null } | null>(null);
  const now = hands.shows === null ? null : { shows: hands.shows, cents: hands.cents };
  if (shown && now !== null && (last?.shows !== now.shows || last.cents !== now.cents)) setLast(now);
  const cents = last?.cents ?? 0;
  const home = Math.abs(cents) <= task.home_within_cents;
  return (
    <figure
      className="flex items-center justify-center gap-6 rounded-lg border border-rule bg-sheet px-4 py-2"
      aria-label={last === null ? "Not sounded yet" : `The tuner shows ${last.shows}`}
    >
      <svg
        viewBox={`0 0 ${String(WIDTH)} ${String(HEIGHT)}`}
        className={task.shows === "figures" ? "h-32 w-auto sm:h-44" : "hidden"}
        aria-hidden
      >
        <line x1={60} x2={60} y1={0} y2={HEIGHT} stroke="var(--ink)" strokeWidth={4} opacity={0.7} />
        <line x1={10} x2={110} y1={REST} y2={REST} stroke="var(--ink)" strokeWidth={2.5} />
        {last?.cents != null && (
          <g opacity={shown ? 1 : 0.45}>
            <Weight
              x={60}
              y={home ? REST : REST + heightOf(cents) * 0.85}
              side={home ? "on" : cents < 0 ? "below" : "above"}
              spread={0}
              voice={home ? "var(--ink)" : cents < 0 ? "var(--below)" : "var(--above)"}
            />
          </g>
        )}
      </svg>
      <figcaption className="min-w-40 sm:min-w-56">
        <span className="block text-xl text-pencil">{task.string} string</span>
        <span className={`block text-5xl font-bold tabular-nums sm:text-6xl ${shown ? "" : "opacity-45"}`}>
          {last?.shows ?? "—"}
        </span>
        <span role="status" className="block text-lg">
          {shown
            ? ""
            : last === null
              ? bow
                ? "Bow it."
                : "Pluck it."
              : bow
                ? "before you turned"
                : "before you turned: pluck it again"}
        </span>
      </figcaption>
    </figure>
  );
}

/** A tone that sounds along, for as long as wanted. */
function Along({ go, loudspeaker }: { go: Go; loudspeaker: Loudspeaker }) {
  const [on, setOn] = useState(false);
  const [error, setError] = useState<Error | null>(null);
  useEffect(
    () => () => {
      loudspeaker.stopAlong();
    },
    [loudspeaker],
  );
  return (
    <>
      <Button
        look={on ? "plain" : "main"}
        aria-pressed={on}
        className="min-h-14 self-start text-xl"
        onClick={() => {
          if (on) {
            loudspeaker.stopAlong();
            setOn(false);
            return;
          }
          askSound(go, "question").then(
            (wav) => {
              setOn(true);
              return loudspeaker.play(wav, { loop: true });
            },
            (reason: unknown) => {
              setError(reason instanceof Error ? reason : null);
            },
          );
        }}
      >
        {on ? "Stop the tone" : "Sound the tone"}
      </Button>
      <Trouble error={error} />
    </>
  );
}

function Beating({ hz }: { hz: number }) {
  return (
    <p className="flex items-center gap-3 text-lg">
      <svg viewBox="0 0 60 60" className="size-14" aria-hidden>
        <circle cx={30} cy={30} r={10} fill="var(--below)">
          {hz > 0.05 && <animate attributeName="r" values="9;26;9" dur={`${(1 / hz).toFixed(3)}s`} repeatCount="indefinite" />}
        </circle>
      </svg>
      <span>
        <b className="tabular-nums">{hz.toFixed(1)}</b> beats a second. Seen, not heard: it practises the hand.
      </span>
    </p>
  );
}
