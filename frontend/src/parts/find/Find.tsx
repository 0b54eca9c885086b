import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions, Dialog, DialogPanel, DialogTitle } from "@headlessui/react";
import { useState } from "react";
import { useNavigate } from "react-router";

import { useMay } from "../../api/device";
import { useInstruments } from "../../api/instruments";
import { usePeople } from "../../api/people";
import { found } from "./found";
import type { Target } from "./found";

/** Found in a second: an instrument, a person, a page. */
export function Find({ pages, onClose }: { pages: Target[]; onClose: () => void }) {
  const [typed, setTyped] = useState("");
  const goTo = useNavigate();
  const targets = useTargets(pages);
  const shown = found(targets, typed);
  return (
    <Dialog open onClose={onClose} className="relative z-30">
      <div className="fixed inset-0 bg-black/40" aria-hidden />
      <div className="fixed inset-0 flex justify-center p-4 sm:pt-24">
        <DialogPanel className="h-fit w-full max-w-xl rounded-lg border-2 border-ink bg-sheet p-4 text-ink">
          <DialogTitle className="mb-2 text-xl font-bold">Find an instrument or somebody</DialogTitle>
          <Combobox<Target | null>
            value={null}
            onChange={(target) => {
              if (target === null) return;
              onClose();
              void goTo(target.to);
            }}
          >
            <ComboboxInput
              autoFocus
              autoComplete="off"
              aria-label="Two letters of its label, its player, its class or a page"
              placeholder="Two letters of its label, its player, its class or a page"
              className="min-h-14 w-full rounded-md border-2 border-ink bg-sheet px-3 text-xl placeholder:text-base placeholder:text-pencil"
              onKeyDown={(event) => {
                if (event.key === "Escape") onClose();
              }}
              onChange={(event) => {
                setTyped(event.target.value);
              }}
            />
            <ComboboxOptions static className="mt-2 flex flex-col">
              {shown.map((target) => (
                <ComboboxOption
                  key={target.to + target.said}
                  value={target}
                  className="flex min-h-11 cursor-pointer flex-wrap items-baseline gap-x-3 rounded-md px-3 py-2 data-focus:bg-ink data-focus:text-paper"
                >
                  <b>{target.said}</b> <span>{target.beside}</span>
                </ComboboxOption>
              ))}
            </ComboboxOptions>
          </Combobox>
          {typed.trim() !== "" && targets.length > 0 && shown.length === 0 && (
            <p role="status" className="mt-2 px-3">
              Nothing here is called “{typed.trim()}”.
            </p>
          )}
        </DialogPanel>
      </div>
    </Dialog>
  );
}

/** Instruments lead to their bench, people to their practice. */
function useTargets(pages: Target[]): Target[] {
  const keepsRoll = useMay("keep-roll");
  const instruments = useInstruments().data;
  const people = usePeople(keepsRoll).data?.people ?? (keepsRoll ? undefined : []);
  // Whoever types fast isn't led to what happens to be there first.
  if (instruments === undefined || people === undefined) return [];
  return [
    ...instruments.map((each) => ({
      to: `/bench/${each.id}`,
      said: each.label,
      beside: [`${each.kind} ${each.size}`, each.player].filter(Boolean).join(", "),
      words: [each.kind, each.size, each.player ?? "", ...Object.values(each.details)].join(" "),
    })),
    ...people.map((each) => ({
      to: `/practice?who=${each.id}`,
      said: each.name,
      beside: "what they practise",
      words: each.role,
    })),
    ...pages,
  ];
}
