import { useState } from "react";

import type { StudioSettings } from "../../api/classes";
import { useA4Today } from "../../api/classes";
import { Button } from "../../parts/Button";
import { Trouble } from "../../parts/Trouble";
import { useListening } from "../../sound/useListening";

const LISTENS = { a4: 440, fifth_cents: 700, spelling: "sharps" } as const;

/** Take the A from an oboe or a piano: heard, shown, asked, and set for today. */
export function AFromOutside({ own }: { own: StudioSettings | undefined }) {
  const [heard, setHeard] = useState<number | null>(null);
  const take = useA4Today();
  const listening = useListening("string", "violin", LISTENS, (settled) => {
    const { hz, string } = settled.reading;
    if (hz != null && string === "A") setHeard(Math.round(hz * 10) / 10);
  });
  const on = listening.state.status === "listening" || listening.state.status === "opening";
  const today = own?.a4_today ?? null;
  return (
    <section aria-label="A from outside" className="flex max-w-3xl flex-col items-start gap-3">
      <h2 className="w-full border-b-2 border-ink pb-1 text-xl font-bold">The A from outside</h2>
      <p className="text-lg">
        {today === null
          ? `Everything is tuned to this studio’s A, ${String(own?.a4 ?? 440)} Hz. Where an oboe or a piano gives the A, take theirs for today.`
          : `Today everything is tuned to ${String(today)} Hz; tomorrow the studio’s own A counts again.`}
      </p>
      {heard !== null && (
        <div className="flex flex-wrap items-center gap-3">
          <p role="status" className="text-3xl font-bold tabular-nums">
            {heard.toFixed(1)} Hz
          </p>
          <Button
            look="main"
            disabled={take.isPending}
            onClick={() => {
              take.mutate(heard, {
                onSuccess: () => {
                  listening.stop();
                  setHeard(null);
                },
              });
            }}
          >
            Take it for today
          </Button>
        </div>
      )}
      <div className="flex flex-wrap gap-2">
        <Button
          onClick={() => {
            if (on) listening.stop();
            else void listening.start();
            setHeard(null);
          }}
        >
          {on ? "Stop listening" : "Listen for the A"}
        </Button>
        {today !== null && (
          <Button
            onClick={() => {
              take.mutate(null);
            }}
          >
            The studio’s own again
          </Button>
        )}
      </div>
      {on && heard === null && <p className="text-pencil">Listening for a long, steady A…</p>}
      <Trouble error={take.error ?? (listening.state.status === "trouble" ? new Error(listening.state.message) : null)} />
    </section>
  );
}
