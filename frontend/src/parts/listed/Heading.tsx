import type { Line, Listed } from "./narrowed";

/** What the lines below it have in common. */
export function Heading({ heading, count }: { heading: string; count: number }) {
  return (
    <h3 className="flex justify-between px-2 pt-4 pb-1 text-lg font-bold">
      {heading} <span>{count}</span>
    </h3>
  );
}

export function keyOfLine(line: Line<Listed>): string {
  return "one" in line ? line.one.id : `above ${line.heading}`;
}
