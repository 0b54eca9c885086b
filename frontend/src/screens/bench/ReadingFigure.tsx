import { useEffect, useState } from "react";

import type { StringBench } from "../../api/client";
import { Word } from "../../parts/explained/Word";
import { ago, signed } from "../../parts/figures";
import type { Look } from "../../sound/socket";
import type { Waits } from "./waits";

interface ReadingFigureProps {
  string: StringBench;
  waits: Waits | undefined;
  /** What sounds now; it is shown instead while it is this string. */
  live: Look | null;
  /** To be read from where the player sits. */
  large: boolean;
}

/** Which string and how far, to be read across a room. After a move the old figure stays, dimmed, with its age. */
export function ReadingFigure({ string, waits, live, large }: ReadingFigureProps) {
  const sounds = live?.string === string.name && live.string_cents != null ? live.string_cents : null;
  const off = sounds ?? (waits === undefined ? (string.advice?.cents_off ?? null) : waits.cents);
  const kept = waits === undefined ? string.advice?.state === "in-tune" : waits.settles;
  const letter = sounds === null && waits === undefined ? string.letter : null;
  const settled = sounds === null ? kept : Math.abs(sounds) <= string.tolerance_cents;
  // What wavers isn't a reading yet; and after a move the old one is not the string's any more.
  const isDimmed = sounds === null ? string.is_outdated && waits === undefined : live?.hears !== "steady";
  const voice = off === null || settled ? "text-ink" : off < 0 ? "text-below" : "text-above";
  return (
    <div className="flex flex-wrap items-center gap-x-3 gap-y-1 sm:items-end sm:gap-x-4">
      <span
        className={`flex shrink-0 items-center justify-center rounded-lg bg-ink font-bold text-paper ${large ? "size-20 text-6xl md:size-36 md:text-8xl lg:size-24 lg:text-6xl" : "size-16 text-5xl sm:size-20 sm:text-6xl"}`}
      >
        {string.name}
      </span>
      {off === null ? (
        <span className="text-3xl leading-tight font-bold">{waits?.text ?? string.words}</span>
      ) : (
        <span className={`flex flex-wrap items-baseline gap-x-3 ${isDimmed ? "opacity-60" : ""}`}>
          <span
            className={`leading-none font-bold ${large ? "text-[5rem] md:text-[9rem] lg:text-[5.5rem]" : "text-[4rem] sm:text-[5.5rem] sm:leading-[0.85]"} ${voice}`}
          >
            {letter ?? signed(off)}
          </span>
          <span className="text-lg sm:text-2xl">
            {settled ? (
              <>{isDimmed && sounds === null ? string.words : "in tune"}</>
            ) : letter !== null ? (
              <>{off < 0 ? "too low" : "too high"}</>
            ) : (
              <>
                <Word term="cent">cents</Word> {off < 0 ? "flat" : "sharp"}
              </>
            )}
          </span>
        </span>
      )}
      {string.reading !== null && (
        <span
          className={`self-start text-sm whitespace-nowrap text-pencil max-sm:w-full sm:ml-auto sm:text-right ${waits === undefined ? "" : "invisible"}`}
        >
          <Heard shown={string.reading.shown} at={string.reading.at} source={string.reading.source} />
        </span>
      )}
    </div>
  );
}

const SOURCES: Record<string, string> = { recording: "from a recording", microphone: "heard", simulated: "simulated" };

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
    <>
      {shown} <br className="max-sm:hidden" />
      {SOURCES[source] ?? ""} {ago(at, Math.max(now, Date.parse(at)))}
    </>
  );
}
