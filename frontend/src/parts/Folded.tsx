import { Disclosure, DisclosureButton, DisclosurePanel } from "@headlessui/react";
import { ChevronDown } from "lucide-react";
import type { ReactNode } from "react";

interface FoldedProps {
  title: string;
  /** The section's name, where its title says less. */
  label?: string;
  open?: boolean;
  /** Folded on a phone or an upright tablet only; on a wide page it always lies open, without its title. */
  narrow?: boolean;
  className?: string;
  children: ReactNode;
}

/** What doesn't help just now: its title, and all of it at a press. */
export function Folded({ title, label = title, open = false, narrow = false, className = "", children }: FoldedProps) {
  return (
    <Disclosure {...(narrow ? { as: "div" } : { as: "section", "aria-label": label })} defaultOpen={open} className={className}>
      {({ open: unfolded }) => (
        <>
          <DisclosureButton
            className={`flex min-h-11 items-center gap-1 text-lg font-bold underline-offset-4 hover:underline ${narrow ? "lg:hidden print:hidden" : ""}`}
          >
            {title} <ChevronDown size={18} className={unfolded ? "rotate-180" : ""} aria-hidden />
          </DisclosureButton>
          {narrow ? (
            <DisclosurePanel static className={unfolded ? "" : "max-lg:hidden print:block"}>
              {children}
            </DisclosurePanel>
          ) : (
            <DisclosurePanel>{children}</DisclosurePanel>
          )}
        </>
      )}
    </Disclosure>
  );
}
