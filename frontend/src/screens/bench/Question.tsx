import type { ReactNode } from "react";

import type { Option, Step } from "../../api/client";
import { Button } from "../../parts/Button";

interface QuestionProps {
  step: Step;
  /** Whether the question stands alone; else its words come after another step's. */
  alone: boolean;
  /** What helps to answer it, before the answers. */
  children?: ReactNode;
  onAnswer: (option: Option) => void;
}

/** A question with its answers right under it. */
export function Question({ step, alone, children, onAnswer }: QuestionProps) {
  return (
    <div role="group" aria-label={step.say} className="flex flex-col gap-2">
      {!alone && <p className="font-bold">{step.say}</p>}
      <div className="flex flex-wrap gap-2">
        {children}
        {step.options.map((option, place) => (
          <Button
            key={`${option.answer} ${option.say}`}
            title={`Alt ${String(place + 1)}`}
            onClick={() => {
              onAnswer(option);
            }}
          >
            {option.say}
          </Button>
        ))}
      </div>
    </div>
  );
}
