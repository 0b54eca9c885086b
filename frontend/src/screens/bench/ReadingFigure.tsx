import { useEffect, useState } from "react";

import type { StringBench } from "../../api/client";
import { Word } from "../../parts/explained/Word";
import { ago, signed } from "../../parts/figures";
import type { Waits } from "./waits";

/** Which string and how far, to be read across a room. After a move the old figure stays, dimmed, with its age. */
export function ReadingFigure({ string, waits }: { string: StringBench; waits: Waits | undefined }) {
  const off = waits === undefined ? (string.advice?.cents_off ?? null) : waits.cents;
  const settled = waits === undefined ? string.advice?.state === "in-tune" : waits.settles;
  const voice = off === null || settled ? "text-ink" : off < 0 ? "text-below" : "text-above";
  return (
    <div className="flex flex-wrap items-center gap-x-3 gap-y-1 sm:items-end sm:gap-x-4">
      <span className="flex size-16 shrink-0 items-center justify-center rounded-lg bg-ink text-5xl font-bold text-paper sm:size-20 sm:text-6xl">
        {string.name}
      </span>
      {off === null ? (
        <span className="text-3xl leading-tight font-bold">{waits?.text ?? string.words}</span>
      ) : (
        <span
          className={`flex flex-wrap items-baseline gap-x-3 ${string.pending === null || waits !== undefined ? "" : "opacity-60"}`}
        >
          <span className={`text-[4rem] leading-none font-bold sm:text-[5.5rem] sm:leading-[0.85] ${voice}`}>
            {signed(off)}
          </span>
          <span className="text-lg sm:text-2xl">
            {settled ? (
              "settled"
            ) : (
              <>
                <Word term="cent">cents</Word> {off < 0 ? "flat" : "sharp"}
              </>
            )}
          </span>
        </span>
      )}
      {string.reading !== null && waits === undefined && (
        <Heard shown={string.reading.shown} at={string.reading.at} source={string.reading.source} />
      )}
    </div>
  );
}

const SOURCES: Record<string, string> = {
  recording: "from a recording",
  microphone: "heard",
  simulated: "simulated",
};

function Heard({ shown, at, source }: { shown: string; at: string; source: string }) {
  const [now, setNow] = useState(Date.now);
  useEffect(() => {
    const timer = setInterval(() => {
      setNow(Date.now());
    }, 5000);
    return () => {
      clearInterval(timer);
    };
  }, []);
  return (
    <span className="self-start text-sm whitespace-nowrap text-pencil max-sm:w-full sm:ml-auto sm:text-right">
      {shown} <br className="max-sm:hidden" />
      {SOURCES[source] ?? ""} {ago(at, Math.max(now, Date.parse(at)))}
    </span>
  );
}
