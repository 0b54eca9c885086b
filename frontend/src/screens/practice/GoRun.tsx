import { ArrowRight } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { Link } from "react-router";

import { newId } from "../../api/client";
import type { Answer, Go, Judged } from "../../api/practice";
import { useAnswering } from "../../api/practice";
import { Button } from "../../parts/Button";
import { countOf } from "../../parts/figures";
import { Shell } from "../../parts/Shell";
import { Trouble } from "../../parts/Trouble";
import { Loudspeaker, volumeChosen } from "../../sound/practice";
import { Choices } from "./Choices";
import { EarPlay } from "./EarPlay";
import { Figure } from "./Figure";
import { HandsPanel } from "./HandsPanel";
import { OwnInstrument } from "./OwnInstrument";
import { QuestionPicture } from "./QuestionPicture";
import { SoundCheck } from "./SoundCheck";

interface GoRunProps {
  begun: Go;
  onChange?: (go: Go) => void;
  onAgain: (go: Go) => void;
}

/** One go at a drill, question by question. */
export function GoRun({ begun, onChange, onAgain }: GoRunProps) {
  const [loudspeaker] = useState(() => new Loudspeaker());
  useEffect(() => {
    if (begun.drill_sounds) loudspeaker.readyAtPress();
    return () => {
      loudspeaker.close();
    };
  }, [loudspeaker, begun.drill_sounds]);
  const [now, setNow] = useState(begun);
  const [seconds, setSeconds] = useState(0);
  const needsSound = begun.drill_sounds;
  const [checked, setChecked] = useState(!needsSound || volumeChosen());
  const over = now.question === null;
  return (
    <Shell
      title={now.said}
      keepsFocus
      tools={
        <span className="shrink-0 px-2 tabular-nums max-sm:hidden">{now.person === "" ? "nothing is kept" : now.person}</span>
      }
    >
      <main id="content" tabIndex={-1} className="flex flex-1 flex-col gap-4 py-4 outline-none">
        {!checked ? (
          <SoundCheck
            loudspeaker={loudspeaker}
            onDone={() => {
              setChecked(true);
            }}
          />
        ) : over ? (
          <Over go={now} seconds={seconds} onAgain={onAgain} />
        ) : (
          <Asked
            key={`${now.go_id ?? ""} ${String(now.number)}`}
            go={now}
            loudspeaker={loudspeaker}
            onNext={(next, took) => {
              onChange?.(next);
              setSeconds((before) => before + took);
              setNow(next);
            }}
          />
        )}
      </main>
    </Shell>
  );
}

interface AskedProps {
  go: Go;
  loudspeaker: Loudspeaker;
  /** On to what comes; how long this one took, in seconds. */
  onNext: (go: Go, took: number) => void;
}

/** One question: what is shown and heard to the left, what is answered to the right; and then how that was. */
function Asked({ go, loudspeaker, onNext }: AskedProps) {
  const question = go.question;
  const { answer, end } = useAnswering();
  const [chosen, setChosen] = useState<string | null>(null);
  const [seen, setSeen] = useState(false);
  const [after, setAfter] = useState<Go | null>(null);
  const [id, setId] = useState(newId);
  const begunAt = useRef(0);
  const next = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    begunAt.current = performance.now();
  }, []);
  const judged = after?.judged ?? null;
  const give = (given: Partial<Answer>, choice: string | null = null) => {
    if (answer.isPending || judged?.right != null) return;
    setChosen(choice);
    const full: Answer = { stopped: false, seen, ...given };
    const seconds = (performance.now() - begunAt.current) / 1000;
    answer.mutate(
      { go, id, answer: full, seconds },
      {
        onSuccess: (told) => {
          setAfter(told);
          if (told.judged?.right == null) {
            setChosen(null);
            setId(newId());
          }
        },
        onError: () => {
          setChosen(null);
        },
      },
    );
  };
  const goOn = () => {
    if (after !== null) onNext(after, (performance.now() - begunAt.current) / 1000);
  };
  useEffect(() => {
    if (judged?.right != null) next.current?.focus();
  }, [judged]);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.target instanceof HTMLInputElement || event.ctrlKey || event.metaKey || event.altKey) return;
      const place = Number(event.key) - 1;
      const choice = question?.choices[place];
      if (judged === null && choice !== undefined) give({ choice: choice.answer }, choice.answer);
      // A pedal: one side goes from answer to answer, the other gives the one it stands on.
      if (event.key === "PageUp" && judged === null) {
        event.preventDefault();
        focusNext(document.querySelectorAll<HTMLButtonElement>("[aria-label=Answers] button"));
      }
      if (event.key === "PageDown" && question?.task === null) {
        event.preventDefault();
        if (judged?.right != null) goOn();
        else if (event.target instanceof HTMLButtonElement) event.target.click();
      }
      if (judged?.right != null && event.key === "Enter" && event.target === document.body) {
        event.preventDefault();
        goOn();
      }
    };
    window.addEventListener("keydown", onKey);
    return () => {
      window.removeEventListener("keydown", onKey);
    };
  });
  if (question === null) return null;
  const scored = judged?.right != null;
  const result = (
    <>
      {judged !== null && <HowItWas judged={judged} />}
      {scored && (
        <Button ref={next} look="main" onClick={goOn} className="min-h-14 text-xl">
          Go on <ArrowRight size={20} aria-hidden />
        </Button>
      )}
      <Trouble error={answer.error ?? end.error} />
    </>
  );
  return (
    <>
      <p className="flex items-baseline justify-between gap-3 text-pencil">
        <span>
          {go.number + 1} of {go.way === "ears" ? `at most ${String(go.questions)}` : go.questions}
        </span>
        <Button
          look="quiet"
          disabled={end.isPending}
          onClick={() => {
            end.mutate(go, {
              onSuccess: (over) => {
                onNext(over, 0);
              },
            });
          }}
        >
          Stop here
        </Button>
      </p>
      {question.task !== null ? (
        <div className="flex min-w-0 flex-col gap-4">
          <h2 className="max-w-3xl text-2xl font-bold text-balance">{question.say}</h2>
          <HandsPanel
            go={go}
            question={question}
            loudspeaker={loudspeaker}
            done={scored}
            result={result}
            onDone={(actions, stopped, watched) => {
              give({ actions, stopped, seen: watched });
            }}
          />
        </div>
      ) : (
        <div className="grid grid-cols-[minmax(0,1fr)] gap-5 lg:grid-cols-[minmax(0,1.2fr)_minmax(0,1fr)]">
          <div className="flex min-w-0 flex-col gap-4">
            <h2 className="text-2xl font-bold text-balance">{question.say}</h2>
            <QuestionPicture go={go} question={question} />
            {question.sounds && (
              <EarPlay
                go={go}
                after={judged?.right == null ? null : after}
                loudspeaker={loudspeaker}
                onSeen={() => {
                  setSeen(true);
                }}
              />
            )}
          </div>
          <div className="flex min-w-0 flex-col gap-4">
            {question.choices.length > 0 && (
              <Choices
                question={question}
                judged={judged}
                chosen={chosen}
                onChoose={(choice) => {
                  give({ choice }, choice);
                }}
              />
            )}
            {question.figure && (
              <Figure
                disabled={answer.isPending || scored}
                onAnswer={(counted) => {
                  give(counted);
                }}
              />
            )}
            {question.microphone !== null && question.microphone_hz !== null && (
              <OwnInstrument
                key={id}
                go={go}
                string={question.microphone}
                hz={question.microphone_hz}
                partials={question.tone_partials}
                volume={loudspeaker.volume}
                done={scored}
                onHeard={(hz, spread) => {
                  give({ heard_hz: hz, spread_cents: spread });
                }}
              />
            )}
            {result}
          </div>
        </div>
      )}
    </>
  );
}

/** The focus goes to the button after the one that has it; from the last to the first. */
function focusNext(buttons: NodeListOf<HTMLButtonElement>): void {
  const all = [...buttons];
  const at = all.findIndex((button) => button === document.activeElement);
  all[(at + 1) % all.length]?.focus();
}

/** How an answer was: a word, and why. */
function HowItWas({ judged }: { judged: Judged }) {
  const word = judged.right === null ? "Not counted" : judged.right ? "Right" : "Not right";
  return (
    <section role="status" className="rounded-lg border-2 border-ink bg-sheet p-4">
      <p className="text-2xl font-bold">{word}</p>
      <p className="mt-1 text-lg">{judged.said}</p>
    </section>
  );
}

/** "48 s", "2 min 5 s". */
function inMinutes(seconds: number): string {
  const whole = Math.round(seconds);
  return whole < 60 ? `${String(whole)} s` : `${String(Math.floor(whole / 60))} min ${String(whole % 60)} s`;
}

/** What a go came to. */
function Over({ go, seconds, onAgain }: { go: Go; seconds: number; onAgain: (go: Go) => void }) {
  return (
    <section aria-label="What it came to" className="flex max-w-2xl flex-col gap-4">
      <h2 className="text-3xl font-bold">
        {go.number === 0 ? "Nothing was answered" : `${String(go.right)} of ${countOf(go.number, "answer")} right`}
      </h2>
      <p className="text-xl">
        {go.summary}
        {seconds > 0 && ` It took ${inMinutes(seconds)}.`}
      </p>
      <p className="text-lg text-pencil">
        {go.person === ""
          ? "Nothing of it is kept."
          : `It is kept with ${go.person}’s practice; what was missed comes back another day.`}
      </p>
      {go.missed.length > 0 && (
        <section aria-label="What was missed">
          <h3 className="font-bold">What was missed, and what is right</h3>
          <ul className="mt-1 flex flex-col gap-2">
            {go.missed.map(({ asked, right }) => (
              <li key={asked} className="border-l-4 border-rule pl-3">
                {asked} <b>{right}</b>
              </li>
            ))}
          </ul>
        </section>
      )}
      <div className="flex flex-wrap gap-2">
        <Button
          look="main"
          className="min-h-14 text-xl"
          onClick={() => {
            onAgain(go);
          }}
        >
          Once more
        </Button>
        <Link
          to={go.person_id === null ? "/practice" : `/practice?who=${go.person_id}`}
          className="inline-flex min-h-14 items-center rounded-md border border-ink/60 bg-sheet px-4 text-xl hover:bg-lit"
        >
          Other drills
        </Link>
        {go.person_id !== null && (
          <Link
            to="/morning"
            className="inline-flex min-h-14 items-center rounded-md border border-ink/60 bg-sheet px-4 text-xl hover:bg-lit"
          >
            Back to the morning
          </Link>
        )}
      </div>
    </section>
  );
}
