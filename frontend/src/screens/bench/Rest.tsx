import type { RestOfRound } from "../../api/client";
import { Button } from "../../parts/Button";

/** The rest of the round: which other strings in which order, and with this one how many moves, how long. */
export function Rest({
  plan,
  current,
  onChoose,
  onPure,
}: {
  plan: RestOfRound;
  current: string;
  onChoose: (name: string) => void;
  onPure: () => void;
}) {
  const others = plan.lines.filter((line) => line.string !== current);
  const left = plan.total_moves === 1 ? "1 move" : `${String(plan.total_moves)} moves`;
  return (
    <section aria-label="Rest of the round" className="rounded-lg border border-rule bg-sheet p-4">
      <h2 className="flex flex-wrap items-baseline justify-between gap-x-4 text-lg font-bold">
        The rest of the round
        {plan.total_moves > 0 && (
          <span className="text-base font-normal">
            {left}, about {plan.minutes} min
          </span>
        )}
      </h2>
      {plan.ask.length > 0 && <p>Still to hear: {plan.ask.join(", ")}.</p>}
      {plan.refer === "luthier" && <p className="font-bold">{plan.why}</p>}
      {plan.offer_pure && (
        <div className="flex flex-col items-start gap-2">
          <p>{plan.why}</p>
          <Button onClick={onPure}>Tune pure</Button>
        </div>
      )}
      {plan.refer === "teacher" && <p className="font-bold">A peg is needed: take it to your teacher.</p>}
      {plan.total_moves === 0 && plan.ask.length === 0 && plan.refer === null && !plan.offer_pure && <p>All in tune.</p>}
      {plan.total_moves > 0 && others.length === 0 && <p>Then all that was heard should be in tune.</p>}
      <ol className="flex flex-col">
        {others.map((line) => (
          <li key={line.string} className="border-t border-rule first:border-t-0">
            <button
              type="button"
              className="on-paper flex min-h-11 w-full items-baseline gap-3 py-1.5 text-left hover:bg-lit"
              onClick={() => {
                onChoose(line.string);
              }}
            >
              <b className="w-7 shrink-0 text-center text-xl">{line.string}</b>
              <span>{line.lines.join("; ")}</span>
            </button>
          </li>
        ))}
      </ol>
    </section>
  );
}
