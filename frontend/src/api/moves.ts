import type { NewMove, Step } from "./client";

/** A move as a person made it. */
export type MoveMade = Omit<NewMove, "id" | "string">;

type Advised = Pick<Step, "do" | "pitch" | "amount" | "unit" | "expect_cents" | "expect_plus_minus">;

/** The move as advised. */
export function asMade(step: Advised): MoveMade {
  return {
    mechanism: step.do === "turn-peg" ? "peg" : "fine-tuner",
    direction: step.pitch ?? "lower",
    amount: step.amount ?? 0,
    unit: step.unit ?? "turn",
    expect_cents: step.expect_cents,
    expect_plus_minus: step.expect_plus_minus,
  };
}
