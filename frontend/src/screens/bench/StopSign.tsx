import { useEffect, useState } from "react";

import type { StringBench } from "../../api/client";
import { useLasting } from "../../parts/useLasting";
import type { Look } from "../../sound/socket";
import { stopTone } from "../../sound/stopTone";

/** A bow's first scratch passes by every pitch; what lasts this long is one. */
const LASTING_MS = 120;

/** While a string is turned as it sounds: whether it has come to where the turn should end, seen at a distance. */
export function StopSign({ string, live }: { string: StringBench; live: Look | null }) {
  const [withTone, setWithTone] = useState(false);
  const pitch = string.advice?.steps[0]?.pitch ?? null;
  const stopAt = string.stop_at_cents;
  const here = live?.string === string.name ? (live.string_cents ?? null) : null;
  const isThere = stopAt !== null && here !== null && (pitch === "raise" ? here >= stopAt : here <= stopAt);
  const arrived = useLasting(isThere, LASTING_MS);
  useEffect(() => {
    if (arrived && withTone) stopTone();
  }, [arrived, withTone]);
  if (stopAt === null || live === null) return null;
  return (
    <div className="flex flex-wrap items-center gap-3">
      <p
        role="status"
        className={`flex-1 rounded-lg border-2 border-ink px-4 py-2 text-5xl font-bold ${arrived ? "bg-ink text-paper" : "border-dashed bg-sheet text-pencil"}`}
      >
        {arrived ? "Stop" : here === null ? "Play it, and turn" : "Keep turning"}
      </p>
      <label className="flex min-h-11 items-center gap-2">
        <input
          type="checkbox"
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
