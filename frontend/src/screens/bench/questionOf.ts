import type { Option, Step, StringBench } from "../../api/client";

/** What is asked about a string now, if something is. */
export function questionOf(string: StringBench): Step | null {
  return string.advice?.steps.find((step) => step.do === "ask") ?? null;
}

/** The answer that was typed in the line: its name, or as its button says it. */
export function answerSaid(string: StringBench, text: string): Option | null {
  const said = plainWords(text);
  const options = questionOf(string)?.options ?? [];
  return options.find((each) => plainWords(each.answer) === said || plainWords(each.say) === said) ?? null;
}

function plainWords(text: string): string {
  return text
    .toLowerCase()
    .replace(/[^\p{L}\d]+/gu, " ")
    .trim();
}
