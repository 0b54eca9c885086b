import { useEffect, useState } from "react";

import type { Go } from "../../api/practice";
import { Button } from "../../parts/Button";
import { Trouble } from "../../parts/Trouble";
import { startTones } from "../../sound/startTones";
import { useListening } from "../../sound/useListening";

interface OwnInstrumentProps {
  go: Go;
  string: string;
  hz: number;
  /** The tone’s partials, relative to the first. */
  partials: number[];
  volume: number;
  done: boolean;
  onHeard: (hz: number, spread: number) => void;
}

/** On one’s own instrument: the tone sounds, one tunes by ear, says when it is right, and only then plays into the microphone. */
export function OwnInstrument({ go, string, hz, partials, volume, done, onHeard }: OwnInstrumentProps) {
  const [stop, setStop] = useState<(() => void) | null>(null);
  const [right, setRight] = useState(false);
  const listening = useListening("string", go.kind, go.tuned, (settled) => {
    const { hz: heard, spread_cents: spread } = settled.reading;
    if (heard != null) onHeard(heard, spread ?? 0);
  });
  const sound = () => {
    if (stop !== null) {
      stop();
      setStop(null);
      return;
    }
    setStop(() => startTones([{ hz, partials, level: 0.25 * volume }]));
  };
  const { stop: stopListening } = listening;
  useEffect(() => {
    if (done) stopListening();
  }, [done, stopListening]);
  if (done) return null;
  return (
    <section aria-label="Your own instrument" className="flex flex-col gap-3">
      {!right && (
        <div className="flex flex-wrap gap-2">
          <Button look={stop === null ? "main" : "plain"} className="min-h-14 text-xl" onClick={sound}>
            {stop === null ? `Sound the ${string}` : "Stop the tone"}
          </Button>
          <Button
            look={stop === null ? "plain" : "main"}
            className="min-h-14 text-xl"
            onClick={() => {
              stop?.();
              setStop(null);
              setRight(true);
              void listening.start();
            }}
          >
            It is right now
          </Button>
        </div>
      )}
      {right && (
        <>
          <p role="status" className="text-2xl font-bold">
            {listening.state.status === "trouble"
              ? "Nothing can be heard on this device."
              : `Now play the ${string} string alone: one long, even bow.`}
          </p>
          <p className="text-lg text-pencil">
            {listening.look?.hears === "quiet" || listening.look === null ? "Listening…" : "Heard; play on until it is steady."}
          </p>
          <Trouble error={listening.state.status === "trouble" ? new Error(listening.state.message) : null} />
          <Button
            className="self-start"
            onClick={() => {
              listening.stop();
              setRight(false);
            }}
          >
            Not yet: back to the tone
          </Button>
        </>
      )}
    </section>
  );
}
