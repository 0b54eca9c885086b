import { enterAnswer } from "../../api/bench";
import type { Bench, MoveAnswer } from "../../api/client";
import type { Fifths } from "../../api/fifths";
import type { MoveMade } from "../../api/moves";
import { asMade, isDone } from "../../api/moves";
import { Button } from "../../parts/Button";
import { Cautions } from "../../parts/Cautions";
import { plain } from "../../parts/figures";
import { TurnDrawing } from "../../parts/TurnDrawing";
import { Question } from "../bench/Question";

interface NextCorrectionProps {
  fifths: Fifths;
  bench: Bench;
  onMoved: (string: string, move: MoveMade) => void;
}

/** The one move that mends most: which string, how far, where to turn, and what it does to the fifth beside it. */
export function NextCorrection({ fifths, bench, onMoved }: NextCorrectionProps) {
  const { mend } = fifths;
  const step = mend?.step ?? null;
  return (
    <section aria-label="Next move" className="flex flex-col gap-3 rounded-lg border border-rule bg-sheet p-4">
      {mend !== null && (
        <p className="flex items-baseline gap-3">
          <span className="text-6xl leading-none font-bold">{mend.string}</span>
          {mend.change_cents !== 0 && (
            <>
              <span className={`text-6xl leading-none font-bold ${mend.change_cents > 0 ? "text-below" : "text-above"}`}>
                {mend.change_cents > 0 ? "up" : "down"} {plain(mend.change_cents)}
              </span>
              <span className="text-lg">cents</span>
            </>
          )}
        </p>
      )}
      <p aria-live="polite" className="text-2xl leading-tight font-bold text-balance">
        {step?.say ?? fifths.said}
      </p>
      {mend !== null && <p>{mend.why}</p>}
      {step !== null && mend !== null && (
        <>
          {step.amount !== null && <TurnDrawing step={step} strings={bench.strings} current={mend.string} hold={fifths.hold} />}
          {step.options.length > 0 && (
            <Question
              step={step}
              alone
              onAnswer={(option) => {
                const moved = bench.strings.find((each) => each.name === mend.string)?.moved;
                if (moved != null) {
                  enterAnswer(bench.instrument.id, moved.id, option.answer as MoveAnswer).catch(() => undefined);
                }
              }}
            />
          )}
          {mend.cautions_said.length > 0 && <Cautions said={mend.cautions_said} />}
          {isDone(step) && (
            <div className="flex flex-wrap items-center gap-3">
              <Button
                look="main"
                onClick={() => {
                  onMoved(mend.string, asMade(step));
                }}
              >
                {step.do === "tug-down" ? "I pulled it" : "I turned it"}
              </Button>
              <span className="text-pencil">
                then bow {mend.play.join(" and ")} together{mend.later > 0 ? "; more moves will follow" : ""}
              </span>
            </div>
          )}
        </>
      )}
    </section>
  );
}
