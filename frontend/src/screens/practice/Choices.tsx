import { Check, X } from "lucide-react";

import type { Judged, Question } from "../../api/practice";

interface ChoicesProps {
  question: Question;
  judged: Judged | null;
  chosen: string | null;
  onChoose: (answer: string) => void;
}

/** The answers, each with the key that gives it; once answered, which was right and which was chosen. */
export function Choices({ question, judged, chosen, onChoose }: ChoicesProps) {
  return (
    <ol className="flex flex-col gap-2" aria-label="Answers">
      {question.choices.map((choice, place) => {
        const right = judged !== null && judged.rights.includes(choice.answer);
        const mine = chosen === choice.answer;
        const look = right
          ? "border-ink bg-ink text-paper font-bold"
          : mine
            ? "border-ink bg-lit"
            : "border-ink/60 bg-sheet hover:bg-lit";
        return (
          <li key={choice.answer}>
            <button
              type="button"
              disabled={chosen !== null}
              aria-keyshortcuts={String(place + 1)}
              onClick={() => {
                onChoose(choice.answer);
              }}
              className={`flex min-h-14 w-full items-center gap-3 rounded-md border px-4 py-2 text-left text-xl ${look}`}
            >
              <kbd className="w-5 shrink-0 font-sans text-base opacity-70 max-sm:hidden">{place + 1}</kbd>
              <span className="flex-1">{choice.say}</span>
              {right && <Check size={22} aria-label="right" />}
              {mine && judged !== null && !right && <X size={22} aria-label="your answer, not right" />}
            </button>
          </li>
        );
      })}
    </ol>
  );
}
