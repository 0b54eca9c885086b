import { Popover, PopoverButton, PopoverPanel } from "@headlessui/react";
import type { ReactNode } from "react";
import { Link } from "react-router";

import type { Term } from "./words";
import { WORDS } from "./words";

/** A word of the trade that opens its explanation where it stands. */
export function Word({ term, children }: { term: Term; children: ReactNode }) {
  const { title, short, drawing: Drawing } = WORDS[term];
  return (
    <Popover as="span" className="inline">
      <PopoverButton
        aria-label={`${String(children)}: what is that?`}
        className="on-paper cursor-help rounded-sm underline decoration-dotted decoration-2 underline-offset-4"
      >
        {children}
      </PopoverButton>
      <PopoverPanel
        role="dialog"
        aria-label={title}
        focus
        anchor={{ to: "bottom start", gap: 6, padding: 12 }}
        className="z-30 flex w-80 max-w-[calc(100vw-24px)] flex-col gap-2 rounded-lg border-2 border-ink bg-sheet p-4 text-base font-normal text-ink"
      >
        <h3 className="text-lg font-bold">{title}</h3>
        <p>{short}</p>
        {Drawing !== null && <Drawing />}
        <Link to={`/parts#${term}`} className="flex min-h-11 items-center font-bold underline underline-offset-4">
          More about it
        </Link>
      </PopoverPanel>
    </Popover>
  );
}
