import { useEffect, useState } from "react";

import type { StringBench } from "../../api/client";
import type { Look } from "../../sound/socket";
import { stopTone } from "../../sound/stopTone";

const NEAR_CENTS = 1;

/** While a string is turned as it sounds: whether it has come to where the turn should end, seen at a distance. */
export function StopSign({ string, live }: { string: StringBench; live: Look | null }) {
  const [withTone, setWithTone] = useState(false);
  const step = string.pending === null ? string.advice?.steps[0] : undefined;
  const until = step?.until ?? null;
  const arrived =
    until !== null && hasArrived(step?.pitch ?? null, step?.aim_cents ?? null, string.name, live);
  useEffect(() => {
    if (arrived && withTone) stopTone();
  }, [arrived, withTone]);
  if (until === null || live === null) return null;
  return (
    <div className="flex flex-wrap items-center gap-3">
      <p
        role="status"
        className={`flex-1 rounded-lg border-2 border-ink px-4 py-2 text-5xl font-bold ${arrived ? "bg-ink text-paper" : "border-dashed bg-sheet text-pencil"}`}
      >
        {arrived ? "Stop" : "Turn on"}
      </p>
      <label className="flex min-h-11 items-center gap-2">
        <input
          type="checkbox"
          className="size-5"
          checked={withTone}
          onChange={(event) => {
            setWithTone(event.target.checked);
          }}
        />
        with a soft tone
      </label>
    </div>
  );
}

function hasArrived(pitch: string | null, aim: number | null, name: string, live: Look | null): boolean {
  if (aim === null || live?.string !== name || live.string_cents == null) return false;
  return pitch === "raise" ? live.string_cents >= aim - NEAR_CENTS : live.string_cents <= aim + NEAR_CENTS;
}
