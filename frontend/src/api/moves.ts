import type { NewMove, Step } from "./client";

/** A move as a person made it. */
export type MoveMade = Omit<NewMove, "id" | "string">;

type Advised = Pick<Step, "do" | "pitch" | "amount" | "unit" | "expect_cents" | "expect_plus_minus">;

/** Whether a step is something a person does and then says so: a turn of a known amount, or a pull. */
export function isDone(step: Pick<Step, "do" | "amount">): boolean {
  return step.amount !== null || step.do === "tug-down";
}

/** The move as advised. */
export function asMade(step: Advised): MoveMade {
  if (step.do === "tug-down") return { mechanism: "tug", direction: "lower", amount: 1, unit: "turn" };
  return {
    mechanism: step.do === "turn-peg" ? "peg" : "fine-tuner",
    direction: step.pitch ?? "lower",
    amount: step.amount ?? 0,
    unit: step.unit ?? "turn",
    expect_cents: step.expect_cents,
    expect_plus_minus: step.expect_plus_minus,
  };
}
