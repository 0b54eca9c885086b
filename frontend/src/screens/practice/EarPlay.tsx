import { Eye, Volume2 } from "lucide-react";
import { useEffect, useRef, useState } from "react";

import type { Go, Seen } from "../../api/practice";
import { askBeside, askSeen, askSound } from "../../api/practice";
import { Button } from "../../parts/Button";
import { Trouble } from "../../parts/Trouble";
import type { Loudspeaker } from "../../sound/practice";

interface EarPlayProps {
  go: Go;
  /** The go since this one was answered. */
  after: Go | null;
  loudspeaker: Loudspeaker;
  /** Told once it was shown, not only heard. */
  onSeen: () => void;
}

/** What is to be heard: played by itself, again as often as wanted; and for eyes, said as what it is. */
export function EarPlay({ go, after, loudspeaker, onSeen }: EarPlayProps) {
  const beside = go.question?.beside ?? "";
  const sound = useRef<Promise<ArrayBuffer> | null>(null);
  const [error, setError] = useState<unknown>(null);
  const [seen, setSeen] = useState<Seen | null>(null);
  const play = () => {
    sound.current ??= askSound(go, "question");
    sound.current
      .then((wav) => loudspeaker.play(wav))
      .catch((reason: unknown) => {
        sound.current = null;
        setError(reason);
      });
  };
  useEffect(() => {
    play();
    // Each question has a player of its own.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, []);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.target instanceof HTMLInputElement || event.key !== "r") return;
      play();
    };
    window.addEventListener("keydown", onKey);
    return () => {
      window.removeEventListener("keydown", onKey);
    };
  });
  return (
    <div className="flex flex-col gap-3">
      <div className="flex flex-wrap gap-2">
        <Button onClick={play} aria-keyshortcuts="r" className="min-h-14 text-xl">
          <Volume2 size={22} aria-hidden /> Hear it again
        </Button>
        {after !== null && beside !== "" && (
          <Button
            className="min-h-14 text-xl"
            onClick={() => {
              askBeside(after, go.number)
                .then((wav) => loudspeaker.play(wav))
                .catch(setError);
            }}
          >
            <Volume2 size={22} aria-hidden /> Beside it: {beside}
          </Button>
        )}
        {seen === null && after === null && (
          <Button
            look="quiet"
            onClick={() => {
              onSeen();
              askSeen(go).then(setSeen, setError);
            }}
          >
            <Eye size={20} aria-hidden /> Show it instead
          </Button>
        )}
      </div>
      {seen !== null && <ForEyes seen={seen} />}
      <Trouble error={error instanceof Error ? error : null} />
    </div>
  );
}

/** Beats as a pulse; tones as heights on one strand. It practises the eye: the ear’s threshold isn’t measured by it. */
function ForEyes({ seen }: { seen: Seen }) {
  return (
    <figure className="flex flex-wrap items-center gap-4 rounded-lg border border-rule bg-sheet p-3">
      {seen.beats_hz !== null && (
        <svg viewBox="0 0 80 80" className="size-20" aria-hidden>
          <circle cx={40} cy={40} r={14} fill="var(--below)">
            {seen.beats_hz > 0.05 && (
              <animate
                attributeName="r"
                values="12;34;12"
                dur={`${(1 / seen.beats_hz).toFixed(3)}s`}
                repeatCount="indefinite"
              />
            )}
          </circle>
        </svg>
      )}
      {seen.offsets_cents.length > 0 && <Heights offsets={seen.offsets_cents} />}
      <figcaption className="min-w-48 flex-1">
        {seen.said}{" "}
        {seen.beats_hz !== null && (
          <>
            <b>{seen.beats_hz.toFixed(1)}</b> beats a second; which side, beats don’t tell.{" "}
          </>
        )}
        Seen, not heard: this one doesn’t count for what your ears can tell.
      </figcaption>
    </figure>
  );
}

function Heights({ offsets }: { offsets: number[] }) {
  const scale = 30 / Math.max(5, ...offsets.map(Math.abs));
  return (
    <svg viewBox="0 0 120 80" className="h-20 w-auto" aria-hidden>
      <line x1={0} x2={120} y1={40} y2={40} stroke="var(--rule)" strokeWidth={2} />
      {offsets.map((each, place) => (
        <rect
          key={place}
          x={14 + place * 56}
          y={40 - each * scale - 5}
          width={36}
          height={10}
          rx={3}
          fill={place === 0 ? "var(--ink)" : "var(--below)"}
        />
      ))}
    </svg>
  );
}
