import { useEffect, useRef, useState } from "react";

import { newId } from "../../api/client";
import type { Triaged } from "../../api/morning";
import { useHearInstrument } from "../../api/morning";
import { softerWords } from "../../parts/listeningWords";
import type { Settled } from "../../sound/socket";
import { useListening } from "../../sound/useListening";

const RINGS_MS = 1200;

interface Session {
  /** The instrument, and an id for its readings in this browser. */
  instrument: string | null;
  id: string;
  heard: Record<string, number>;
}

/** Hearing one instrument after another: what settles is kept; once all four are heard, the next one's slot. */
export function useSweep(
  instruments: Triaged[],
  chosen: string | null,
  setChosen: (id: string | null) => void,
) {
  const waiting = instruments.filter((each) => each.group === "not-heard");
  const current = instruments.find((each) => each.id === chosen) ?? waiting[0] ?? null;
  const [session, setSession] = useState<Session>({ instrument: null, id: newId(), heard: {} });
  const mine: Session =
    session.instrument === (current?.id ?? null)
      ? session
      : { instrument: current?.id ?? null, id: newId(), heard: {} };
  const [line, setLine] = useState("");
  const [unclear, setUnclear] = useState<Settled | null>(null);
  const [done, setDone] = useState<string[]>([]);
  const keep = useHearInstrument();
  const { mutateAsync, reset } = keep;
  const timer = useRef<number | undefined>(undefined);
  useEffect(
    () => () => {
      window.clearTimeout(timer.current);
    },
    [],
  );

  const goOn = () => {
    setChosen(null);
    setUnclear(null);
    setSession({ instrument: null, id: newId(), heard: {} });
  };
  const after = (swept: Triaged, ringing: boolean) => {
    if (swept.group === "not-heard") return;
    setDone((before) => [swept.id, ...before.filter((each) => each !== swept.id)].slice(0, 8));
    window.clearTimeout(timer.current);
    if (!ringing) {
      goOn();
      return;
    }
    // It stays for a moment: its last string still rings, and would count as the next instrument's.
    setChosen(swept.id);
    timer.current = window.setTimeout(goOn, RINGS_MS);
  };
  const take = (settled: Settled) => {
    const { hz, string, spread_cents, string_cents } = settled.reading;
    if (current === null || hz == null || string == null) return;
    setUnclear(null);
    setSession({ ...mine, heard: { ...mine.heard, [string]: string_cents ?? 0 } });
    const heard = [{ id: newId(), string, heard: { hz }, spread_cents: spread_cents ?? null }];
    void mutateAsync({ id: mine.id, instrument_id: current.id, heard, source: "microphone" }).then(
      (swept) => {
        after(swept, true);
      },
      () => undefined,
    );
  };
  const onSettled = (settled: Settled) => {
    if (settled.ask === null) take(settled);
    else if (current !== null) setUnclear(settled);
  };
  const listening = useListening("string", current?.kind, undefined, onSettled);

  return {
    current,
    waiting,
    heard: mine.heard,
    line,
    unclear: unclear === null || unclear.ask === "softer" ? null : unclearWords(unclear),
    /** What was much softer may be this instrument's after all: then what is as soft is, from now on. */
    softer:
      unclear?.ask === "softer"
        ? {
            words: softerWords(unclear),
            onTake: () => {
              listening.listenAnew();
              take(unclear);
            },
          }
        : null,
    done,
    listening,
    error: keep.error,
    setLine: (text: string) => {
      setLine(text);
      reset();
    },
    keepLine: () => {
      if (current === null) return;
      const body = { id: newId(), instrument_id: current.id, line, heard: [], source: "typed" as const };
      void mutateAsync(body).then(
        (swept) => {
          setLine("");
          after(swept, false);
        },
        () => undefined,
      );
    },
  };
}

function unclearWords(settled: Settled): string {
  return settled.ask === "unsure"
    ? `The ${settled.reading.string ?? "string"} sways; play it again, slower, near the tip.`
    : `Heard ${settled.reading.note ?? "something"} between two strings; play the string again, or type it.`;
}
