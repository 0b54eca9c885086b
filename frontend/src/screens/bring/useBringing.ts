import { useState } from "react";

import type { BroughtList, ListChange } from "../../api/lists";
import { useBring, useChangeList, useConfirmList } from "../../api/lists";

/** One list on its way in: looked through, corrected, stored. */
export function useBringing() {
  const [list, setList] = useState<BroughtList | null>(null);
  const [stored, setStored] = useState<number | null>(null);
  const [done, setDone] = useState(0);
  const bring = useBring(setDone);
  const change = useChangeList(setDone);
  const confirm = useConfirmList(setDone);
  const begin = () => {
    setDone(0);
    for (const each of [bring, change, confirm]) each.reset();
  };
  return {
    list,
    stored,
    done,
    busy: bring.isPending || change.isPending || confirm.isPending,
    doing: confirm.isPending ? "Storing" : "Looking through it",
    error: bring.error ?? change.error ?? confirm.error,
    bring: (file: File | undefined) => {
      if (file === undefined) return;
      begin();
      setList(null);
      setStored(null);
      bring.mutate(file, { onSuccess: setList });
    },
    change: (said: ListChange) => {
      if (list === null) return;
      begin();
      change.mutate({ id: list.id, change: said }, { onSuccess: setList });
    },
    store: (leaveOut: boolean) => {
      if (list === null) return;
      begin();
      confirm.mutate({ id: list.id, leaveOut }, { onSuccess: setStored });
    },
  };
}
