import { useState } from "react";

import type { BroughtList, Storing } from "../../api/lists";
import { Button } from "../../parts/Button";
import { LANGUAGE } from "../../parts/figures";

interface StoreListProps {
  list: BroughtList;
  /** Lines that stay as they are. */
  leftOut: readonly number[];
  busy: boolean;
  onStore: (how: Storing) => void;
}

/** All of the good rows, or nothing; bad ones are left out only if someone says so. */
export function StoreList({ list, leftOut, busy, onStore }: StoreListProps) {
  const [leaveOut, setLeaveOut] = useState(false);
  const stored = list.good - leftOut.length;
  const ready = list.missing.length === 0 && list.order !== null && stored > 0;
  return (
    <section aria-label="Store" className="flex flex-wrap items-center gap-4">
      {list.bad_count > 0 && list.good > 0 && (
        <label className="flex min-h-11 items-center gap-2">
          <input
            type="checkbox"
            checked={leaveOut}
            onChange={(event) => {
              setLeaveOut(event.target.checked);
            }}
          />
          leave the {list.bad_count === 1 ? "bad row" : `${String(list.bad_count)} bad rows`} out
        </label>
      )}
      <Button
        look="main"
        disabled={busy || !ready || (list.bad_count > 0 && !leaveOut)}
        onClick={() => {
          onStore({ leaveOutBad: leaveOut, leaveOut: [...leftOut] });
        }}
      >
        Store {stored.toLocaleString(LANGUAGE)} {stored === 1 ? "row" : "rows"}
      </Button>
      {list.bad_count > 0 && !leaveOut && list.good > 0 && (
        <span className="text-pencil">Correct them in the file and bring it again, or leave them out.</span>
      )}
    </section>
  );
}
