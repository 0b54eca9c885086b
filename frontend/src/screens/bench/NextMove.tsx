import type { ReactNode } from "react";
import { useState } from "react";

import type { Option, Step, StringBench } from "../../api/client";
import { asMade, isDone } from "../../api/moves";
import { Button } from "../../parts/Button";
import { Cautions } from "../../parts/Cautions";
import { Word } from "../../parts/explained/Word";
import { Folded } from "../../parts/Folded";
import { plain } from "../../parts/figures";
import { TurnDrawing } from "../../parts/TurnDrawing";
import { MoveForm } from "./MoveForm";
import { Question } from "./Question";
import { questionOf } from "./questionOf";
import { ReadingFigure } from "./ReadingFigure";
import { ToneButton } from "./ToneButton";
import type { BenchInHand } from "./OnBench";

type NextMoveProps = Pick<BenchInHand, "bench" | "string" | "controller"> & {
  /** Somebody says what is heard: nothing need be typed. */
  listening?: boolean;
  /** Where to go on once all its strings are in tune. */
  after?: ReactNode;
};

/** What to do now about one string: the reading, one sentence, where and which way, and what to mind. */
export function NextMove({ bench, string, controller, listening = controller.isListening, after }: NextMoveProps) {
  const { live, from } = controller;
  // What was entered of this string and isn't answered yet; what stands here is of before.
  const waits = controller.waits[string.name];
  const byEar = from === "ear";
  const turning = string.pending === null ? firstTurn(string) : null;
  // What was advised of the figure before isn't shown beside the new one: it keeps its room, and nothing is read twice.
  const answered = waits === undefined;
  const old = answered ? "" : "invisible";
  const cautions = string.pending === null ? string.cautions_said : [];
  return (
    <section aria-label="Next move" className="flex flex-col gap-3 rounded-lg border border-rule bg-sheet p-3 sm:p-4">
      <div
        className={`grid grid-cols-[minmax(0,1fr)] items-center gap-3 ${listening ? "" : "md:grid-cols-[minmax(0,1.5fr)_minmax(0,1fr)]"} lg:grid-cols-[minmax(0,1fr)]`}
      >
        <div className="flex flex-col gap-3">
          <ReadingFigure string={string} waits={waits} live={live} large={listening} />
          <div aria-live="polite" aria-busy={!answered}>
            <h2
              className={`leading-tight font-bold text-balance ${listening ? "text-3xl md:text-5xl lg:text-4xl" : "text-2xl sm:text-3xl"}`}
            >
              {answered ? (
                keptTogether(string.headline)
              ) : (
                // What stood there keeps its room, so that nothing moves twice.
                <span className="relative block">
                  <span className="absolute">…</span>
                  <span className="invisible">{keptTogether(string.headline)}</span>
                </span>
              )}
            </h2>
            <div className={`mt-1.5 flex flex-col gap-1.5 ${old}`}>
              {cautions.length > 0 && <Cautions said={cautions} />}
              <p className="leading-snug">{sentence(string, listening, byEar)}</p>
            </div>
          </div>
          <div className={`empty:hidden ${old}`}>
            <WhatItDid string={string} onAnswer={controller.answerQuestion} />
          </div>
        </div>
        {turning !== null && (
          <div className={old}>
            <TurnDrawing step={turning} strings={bench.strings} current={string.name} hold={bench.hold} />
          </div>
        )}
      </div>
      {string.pending === null && string.advice !== null && (
        <div className={`contents ${old}`}>
          <Advised key={string.name} string={string} controller={controller}>
            {bench.next_string === null && string.is_left && after}
          </Advised>
        </div>
      )}
    </section>
  );
}

/** A note and its cents stay on one line. */
function keptTogether(said: string): string {
  return said.replace(/([A-G][♯♭]?\d) ([+−]\d)/g, "$1\u00a0$2");
}

/** The first step, where it turns something. */
function firstTurn(string: StringBench): Step | null {
  const first = string.advice?.steps[0];
  return first !== undefined && first.rotation !== null ? first : null;
}

function sentence(string: StringBench, listening: boolean, byEar: boolean): string {
  if (string.is_outdated || string.advice === null) {
    if (byEar) return "Sound its tone, play the string softly beside it, and say which is higher.";
    return listening ? "Softly and evenly, until it is kept by itself." : "Softly and evenly, then enter what the tuner shows.";
  }
  return string.advice.steps[0]?.say ?? string.advice.why;
}

function WhatItDid({ string, onAnswer }: { string: StringBench; onAnswer: (option: Option) => void }) {
  if (string.pending !== null) {
    const expect = string.pending.expect_cents;
    return (
      <p>
        Turned: {string.pending.said}.{expect !== null && <> It should have gone {way(expect)} cents.</>}
      </p>
    );
  }
  const moved = string.moved;
  if (moved?.taken === true) {
    return (
      <p className="flex flex-wrap items-center gap-x-4 text-pencil">
        {moved.said}.
        {moved.denials.map((denial) => (
          <button
            key={denial.answer}
            type="button"
            className="min-h-11 font-bold text-ink underline underline-offset-4"
            onClick={() => {
              onAnswer(denial);
            }}
          >
            {denial.say}
          </button>
        ))}
      </p>
    );
  }
  if (moved === null || moved.did_cents === null) return null;
  return (
    <p>
      The last move brought it <b>{way(moved.did_cents)}</b> cents
      {moved.expect_cents !== null && (
        <>
          {" "}
          (expected {way(moved.expect_cents)}
          {moved.expect_plus_minus !== null && <> ± {plain(moved.expect_plus_minus)}</>})
        </>
      )}
      .
    </p>
  );
}

/** A change in words: a sign says where a string stands, never what moved it. */
function way(cents: number): string {
  return `${cents < 0 ? "down" : "up"} ${plain(cents)}`;
}

function Advised({ string, controller, children }: Pick<NextMoveProps, "string" | "controller"> & { children: ReactNode }) {
  const { keepMove: onMoved, answerQuestion: onAnswer, goOn: onNext } = controller;
  const tone = controller.listening.tone;
  const [other, setOther] = useState(false);
  const advice = string.advice;
  if (advice === null) return null;
  const first = advice.steps[0];
  const doing = first !== undefined && isDone(first) ? first : null;
  const question = questionOf(string);
  const learned = learnedInWords(string);
  return (
    <>
      {question !== null && (
        <Question step={question} alone={question === first} onAnswer={onAnswer}>
          {question.tone_octaves !== null && <ToneButton tone={tone} octaves={question.tone_octaves} />}
        </Question>
      )}
      <div className="flex flex-wrap gap-2 max-lg:sticky max-lg:bottom-0 max-lg:-mx-3 max-lg:border-t max-lg:border-rule max-lg:bg-sheet max-lg:px-3 max-lg:py-2 max-lg:sm:-mx-4 max-lg:sm:px-4 print:hidden">
        {doing !== null && (
          <Button
            look="main"
            onClick={() => {
              onMoved(asMade(doing));
            }}
          >
            {doing.do === "tug-down" ? "I pulled it" : "I turned it"}
          </Button>
        )}
        {string.is_left && onNext !== null && (
          <Button look="main" onClick={onNext}>
            Next string
          </Button>
        )}
        {children}
        <Button
          aria-expanded={other}
          onClick={() => {
            setOther(!other);
          }}
        >
          {doing?.amount == null ? "I turned something" : "I turned it differently"}
        </Button>
      </div>
      {other && (
        <MoveForm
          string={string}
          onMade={(move) => {
            setOther(false);
            onMoved(move);
          }}
        />
      )}
      <Later steps={string.later} />
      <Folded title="Why this?" className="print:hidden">
        <p>{advice.why}</p>
        {learned !== null && <p className="mt-1">{learned}</p>}
        {first?.rotation != null && (
          <p className="mt-1 text-pencil">
            <Word term={first.do === "turn-peg" ? "peg" : "fine-tuner"}>
              {first.do === "turn-peg" ? "How a peg works" : "How a fine tuner works"}
            </Word>
          </p>
        )}
      </Folded>
    </>
  );
}

function Later({ steps }: { steps: string[] }) {
  if (steps.length === 0) return null;
  return (
    <div>
      <h3 className="text-sm font-bold text-pencil">Then</h3>
      <ol className="list-decimal pl-6">
        {steps.map((step, place) => (
          <li key={`${String(place)} ${step}`}>{step}</li>
        ))}
      </ol>
    </div>
  );
}

/** What the log teaches of the part that is turned, if it is turned at all. */
function learnedInWords(string: StringBench): string | null {
  const { learned, advice } = string;
  if (advice === null || advice.mechanism === "none") return null;
  const screw = advice.mechanism === "fine-tuner";
  const count = screw ? learned.screw_moves : learned.peg_moves;
  const figure = screw
    ? `${String(learned.screw_cents_per_turn)} ± ${String(learned.screw_plus_minus)} cents a turn`
    : `${String(learned.peg_cents_per_degree)} ± ${String(learned.peg_plus_minus)} cents a degree`;
  const part = screw ? "This fine tuner" : "This peg";
  const makes =
    count === 0
      ? `${part} is taken to make ${figure}, as its kind and size do; its own moves will tell better.`
      : `${part} makes ${figure}, learned from ${String(count)} ${count === 1 ? "move" : "moves"}.`;
  return screw ? `${makes} ${standsInWords(string)}` : makes;
}

/** Where the screw stands, and how that is known. */
function standsInWords({ fine_tuner: tuner }: StringBench): string {
  if (tuner === null) return "";
  const turns = Math.abs(tuner.turns_from_middle).toFixed(1);
  const where =
    turns === "0.0" ? "about half way" : `${turns} turns further ${tuner.turns_from_middle > 0 ? "in" : "out"} than half way`;
  return tuner.is_seen
    ? `It stands ${where}, by what was turned since somebody looked.`
    : `It is taken to stand ${where}; nobody has looked.`;
}
