import { useEffect, useRef, useState } from "react";

import { enterStrike } from "../../api/bench";
import { newId } from "../../api/client";
import type { Triaged } from "../../api/morning";
import type { Swept } from "../../api/outbox/benchOutbox";
import { enterHeard, outbox, useOutbox } from "../../api/outbox/benchOutbox";
import type { Waiting } from "../../api/outbox/entry";
import { softerWords } from "../../parts/listeningWords";
import type { Settled } from "../../sound/socket";
import { useListening } from "../../sound/useListening";

const RINGS_MS = 1200;
const ROWS = 12;

interface Session {
  /** The instrument, and an id for its readings in this browser. */
  instrument: string | null;
  id: string;
  heard: Record<string, number>;
}

/** An instrument that was heard: as it was typed, and what was kept of it, once it is. */
export interface Row {
  id: string;
  instrument: Triaged;
  typed: string;
  readings: Swept["readings"] | null;
  undone: boolean;
}

/** Hearing one instrument after another: what settles, or is typed, is kept; then it is the next one's turn. */
export function useSweep(instruments: Triaged[], chosen: string | null, setChosen: (id: string | null) => void) {
  const [rows, setRows] = useState<Row[]>([]);
  const onTheWay = useOutbox().filter(isHeard);
  // One that was typed is passed on from at once; it comes back where its strings weren't all in it, or it was refused.
  const waiting = instruments.filter(
    (each) => each.group === "not-heard" && !onTheWay.some((entry) => entry.refused === null && entry.instrument === each.id),
  );
  const current = instruments.find((each) => each.id === chosen) ?? waiting[0] ?? null;
  const fresh = (instrument: string | null): Session => ({ instrument, id: newId(), heard: {} });
  const [session, setSession] = useState<Session>(() => fresh(null));
  const mine = session.instrument === (current?.id ?? null) ? session : fresh(current?.id ?? null);
  const [line, setLine] = useState("");
  const [unclear, setUnclear] = useState<Settled | null>(null);
  const kept = useRef<{ id: string; readings: Swept["readings"] }>({ id: "", readings: [] });
  const timer = useRef<number | undefined>(undefined);
  useEffect(
    () => () => {
      window.clearTimeout(timer.current);
    },
    [],
  );

  const add = (row: Row) => {
    setRows((before) => [row, ...before.filter((each) => each.id !== row.id)].slice(0, ROWS));
  };
  const change = (id: string, to: Partial<Row>) => {
    setRows((before) => before.map((row) => (row.id === id ? { ...row, ...to } : row)));
  };
  const goOn = () => {
    setChosen(null);
    setUnclear(null);
    setSession(fresh(null));
  };
  const take = (settled: Settled) => {
    const { hz, string, spread_cents, string_cents } = settled.reading;
    if (current === null || hz == null || string == null) return;
    setUnclear(null);
    setSession({ ...mine, heard: { ...mine.heard, [string]: string_cents ?? 0 } });
    const heard = [{ id: newId(), string, heard: { hz }, spread_cents: spread_cents ?? null }];
    const body = { id: mine.id, instrument_id: current.id, heard, source: "microphone" as const };
    enterHeard(current.label, body, string).then(({ readings, ...swept }) => {
      const before = kept.current.id === mine.id ? kept.current.readings : [];
      kept.current = { id: mine.id, readings: [...before, ...readings] };
      if (swept.group === "not-heard") return;
      add({ id: mine.id, instrument: swept, typed: "", readings: kept.current.readings, undone: false });
      // It stays for a moment: its last string still rings, and would count as the next instrument's.
      window.clearTimeout(timer.current);
      setChosen(swept.id);
      timer.current = window.setTimeout(goOn, RINGS_MS);
    }, quietly);
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
    setLine,
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
    rows,
    refused: onTheWay.filter((entry) => entry.refused !== null),
    listening,
    /** The line is kept, and the next instrument stands there at once. */
    keepLine: () => {
      if (current === null || line.trim() === "") return;
      const id = newId();
      add({ id, instrument: current, typed: line.trim(), readings: null, undone: false });
      const body = { id, instrument_id: current.id, line, heard: [], source: "typed" as const };
      enterHeard(current.label, body, line.trim()).then(
        ({ readings, ...instrument }) => {
          change(id, { readings, instrument });
        },
        () => {
          setRows((before) => before.filter((row) => row.id !== id));
        },
      );
      setLine("");
      goOn();
    },
    /** What was kept of an instrument is struck out, and it stands there again. */
    undo: (row: Row) => {
      for (const reading of row.readings ?? []) void enterStrike(row.instrument.id, { kind: "reading", id: reading.id });
      change(row.id, { undone: true });
      setChosen(row.instrument.id);
      if (line === "") setLine(row.typed);
    },
    /** What wasn't taken comes back to the line. */
    typeAgain: (entry: Waiting) => {
      outbox.drop(entry.id);
      setChosen(entry.instrument);
      if (line === "") setLine(lineOf(entry));
    },
    stepBy: (by: number) => {
      const at = waiting.findIndex((each) => each.id === current?.id);
      const next = waiting[(Math.max(at, 0) + by + waiting.length) % Math.max(waiting.length, 1)];
      if (next !== undefined) setChosen(next.id);
    },
  };
}

/** What isn't taken stays in sight, with its reason. */
function quietly(): void {}

function isHeard({ request }: Waiting): boolean {
  return request.path === "/api/morning/heard";
}

function lineOf({ request: { body } }: Waiting): string {
  return body !== null && "line" in body && typeof body.line === "string" ? body.line : "";
}

function unclearWords(settled: Settled): string {
  return settled.ask === "unsure"
    ? `The ${settled.reading.string ?? "string"} sways; play it again, slower, near the tip.`
    : `Heard ${settled.reading.note ?? "something"} between two strings; play the string again, or type it.`;
}
