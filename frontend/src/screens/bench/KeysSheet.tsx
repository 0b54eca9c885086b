import { Dialog, DialogPanel, DialogTitle } from "@headlessui/react";

import { Button } from "../../parts/Button";

const KEYS: [string, string][] = [
  ["−12 Enter", "keep “12 cents flat of this string's note”"],
  ["A3 +5 Enter", "keep another note, with its octave"],
  ["440.2 Hz Enter", "keep a frequency"],
  ["flat, in tune, sharp Enter", "keep what a tuner without figures shows"],
  ["Alt 1, Alt 2, …", "answer what is asked: first, second answer (or type its words)"],
  ["Enter on an empty line", "I made the move that is shown"],
  ["Page Down, Page Up", "next string, string before (a page-turn pedal sends these)"],
  ["↑ ↓", "one cent up, one cent down in the line"],
  ["Ctrl Z", "strike out the last entry"],
  ["Space, while listening", "take the reading that sounds now, or the one asked about"],
  ["H, while listening", "hold; again: go on"],
  ["Backspace, while listening", "strike out the last entry"],
  ["/, Ctrl K", "find an instrument, somebody or a page (in every place)"],
  ["?", "this sheet"],
];

/** The keys of the bench. */
export function KeysSheet({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <Dialog open={open} onClose={onClose} className="relative z-30">
      <div className="fixed inset-0 bg-black/40" aria-hidden />
      <div className="fixed inset-0 flex items-center justify-center p-4">
        <DialogPanel className="max-h-full w-full max-w-xl overflow-y-auto rounded-lg border-2 border-ink bg-sheet p-6 text-ink">
          <DialogTitle className="mb-3 text-2xl font-bold">Keys</DialogTitle>
          <dl className="grid grid-cols-[auto_1fr] gap-x-5 gap-y-2">
            {KEYS.map(([key, does]) => (
              <div key={key} className="contents">
                <dt className="font-bold whitespace-nowrap">{key}</dt>
                <dd>{does}</dd>
              </div>
            ))}
          </dl>
          <Button look="main" className="mt-5" onClick={onClose}>
            Close
          </Button>
        </DialogPanel>
      </div>
    </Dialog>
  );
}
