import { useState } from "react";

import type { BroughtList, ListChange, Progress, Storing } from "../../api/lists";
import { useBring, useChangeList, useConfirmList } from "../../api/lists";
import { LANGUAGE } from "../../parts/figures";

const DOING = { looking: "Looking through it…", storing: "Storing…", "working-out": "Stored; working out what it teaches…" };

function inWords({ doing, done, of }: Progress): string {
  const count = done.toLocaleString(LANGUAGE);
  if (of !== undefined) return `${DOING[doing]} ${count} of ${of.toLocaleString(LANGUAGE)} instruments so far`;
  return done === 0 ? DOING[doing] : `${DOING[doing]} ${count} rows so far`;
}

/** One list on its way in: looked through, corrected, stored. */
export function useBringing() {
  const [list, setList] = useState<BroughtList | null>(null);
  const [stored, setStored] = useState<number | null>(null);
  const [done, setDone] = useState<Progress | null>(null);
  const bring = useBring(setDone);
  const change = useChangeList(setDone);
  const confirm = useConfirmList(setDone);
  const begin = () => {
    setDone(null);
    for (const each of [bring, change, confirm]) each.reset();
  };
  return {
    list,
    stored,
    busy: bring.isPending || change.isPending || confirm.isPending,
    doing: inWords(done ?? { doing: confirm.isPending ? "storing" : "looking", done: 0 }),
    error: bring.error ?? change.error ?? confirm.error,
    bring: (file: File | undefined) => {
      if (file === undefined) return;
      begin();
      setList(null);
      setStored(null);
      bring.mutate(file, { onSuccess: setList });
    },
    /** What was stored is taken back. */
    forget: () => {
      setList(null);
      setStored(null);
    },
    change: (said: ListChange) => {
      if (list === null) return;
      begin();
      change.mutate({ id: list.id, change: said }, { onSuccess: setList });
    },
    store: (how: Storing) => {
      if (list === null) return;
      begin();
      confirm.mutate({ id: list.id, ...how }, { onSuccess: setStored });
    },
  };
}
