import { Popover, PopoverButton, PopoverPanel } from "@headlessui/react";
import { Menu } from "lucide-react";
import type { ReactNode } from "react";

/** How a line behind *More* looks. */
export const MORE_ENTRY =
  "flex min-h-11 items-center gap-2 rounded-md px-3 text-left hover:bg-lit aria-[current=page]:font-bold aria-[current=page]:underline aria-[current=page]:underline-offset-4";

/** What there is no room for in the row at the top. */
export function More({ children }: { children: ReactNode }) {
  return (
    <Popover className="shrink-0">
      <PopoverButton
        aria-label="More"
        title="More"
        className="flex size-11 items-center justify-center rounded-md hover:bg-lit"
      >
        <Menu size={22} aria-hidden />
      </PopoverButton>
      <PopoverPanel
        role="dialog"
        aria-label="More"
        anchor={{ to: "bottom end", gap: 6, padding: 12 }}
        className="z-20 w-72 max-w-[calc(100vw-24px)] rounded-lg border-2 border-ink bg-sheet p-2"
      >
        {({ close }) => (
          // A choice made closes it; keys that only move within don't.
          <div
            className="flex flex-col"
            onClick={(event) => {
              if (event.target instanceof Element && event.target.closest("a, button") !== null) close();
            }}
          >
            {children}
          </div>
        )}
      </PopoverPanel>
    </Popover>
  );
}
