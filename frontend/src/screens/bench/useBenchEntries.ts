import { useCallback, useState } from "react";

import type { EntryRef } from "../../api/bench";
import {
  enterAnswer,
  enterBack,
  enterMove,
  enterNewTuning,
  enterReading,
  enterSettings,
  enterStrike,
  useStringFittings,
} from "../../api/bench";
import { useMe } from "../../api/device";
import type { Bench, HistoryEntry, MoveAnswer, NewReading, StringFittings, TuningSettings } from "../../api/client";
import type { MoveMade } from "../../api/moves";
import { useOutbox } from "../../api/outbox/benchOutbox";
import type { Waiting } from "../../api/outbox/entry";
import { inWords } from "../../parts/entryInWords";
import { settingsOf } from "./settingsOf";

/** A reading or a move as the person knows it; `waits`: it isn't stored yet. */
export interface Deed extends EntryRef {
  said: string;
  waits: boolean;
}

/** What is entered at a bench and sent to the server: readings, moves, strikes, settings, fittings. */
export function useBenchEntries(instrumentId: string, bench: Bench | undefined) {
  const fittings = useStringFittings(instrumentId);
  const waiting = useOutbox();
  const me = useMe().data?.name;
  const tuning = bench?.tuning.id;
  /** What was taken back in this tuning, the newest last: the server may not have told of it yet. */
  const [undone, setUndone] = useState<{ deed: Deed; tuning: string | undefined; before: string | undefined }[]>([]);
  const last = lastOf(bench, waiting, me, undone);

  const keepReading = useCallback(
    (reading: NewReading): Promise<Bench> => {
      if (bench === undefined) return Promise.reject(new Error("There is no tuning yet."));
      return enterReading(bench, reading, said(reading));
    },
    [bench],
  );
  /** What isn't taken stays in sight, with its reason, beside the line. */
  const quietly = (entered: Promise<Bench> | undefined) => {
    entered?.catch(() => undefined);
  };
  const newest = undone.at(-1);
  const isShown = newest?.tuning === tuning && newest?.before === last?.id;
  const takenBack = isShown ? newest?.deed : undefined;
  const takeBack = (deed: Deed) => {
    const before = lastOf(bench, waiting, me, [...undone, { deed }])?.id;
    setUndone([...undone, { deed, tuning, before }]);
    quietly(enterStrike(instrumentId, deed));
  };
  const bringBack = (entry: EntryRef) => {
    setUndone(undone.filter(({ deed }) => deed.id !== entry.id));
    quietly(enterStrike(instrumentId, entry, true));
  };
  return {
    keepReading,
    last,
    /** What was taken back last, until something else is entered. */
    takenBack: takenBack ? { ...takenBack, waits: waiting.some(({ id }) => id === takenBack.id) } : null,
    /** Take back what is shown as last, and nothing else. */
    undo: () => {
      if (last !== null) takeBack(last);
    },
    bringBack,
    keepMove: (string: string, move: MoveMade) => {
      if (bench !== undefined) quietly(enterMove(bench, string, move));
    },
    strike: (entry: HistoryEntry) => {
      takeBack(asDeed(entry));
    },
    strikeAt: (entry: EntryRef) => {
      quietly(enterStrike(instrumentId, entry));
    },
    answerMove: (move: string, answer: MoveAnswer) => {
      quietly(enterAnswer(instrumentId, move, answer));
    },
    newTuning: () => {
      if (bench !== undefined) quietly(enterNewTuning(bench, settingsOf(bench)));
    },
    backToBefore: () => {
      if (bench !== undefined) quietly(enterBack(bench));
    },
    changeSettings: (changed: TuningSettings) => {
      if (bench !== undefined) quietly(enterSettings(bench, changed));
    },
    changeFittings: (of: string, changed: StringFittings) => {
      fittings.mutate({ name: of, fittings: changed });
    },
    fittingsError: fittings.error,
  };
}

/** A reading as the person who made it knows it. */
function said({ typed, heard }: NewReading): string {
  if (typed != null) return typed;
  if (heard?.hz != null) return `${heard.hz.toFixed(1)} Hz`;
  return [heard?.note, heard?.side, heard?.cents].filter((part) => part != null).join(" ");
}

function asDeed({ kind, id, string, text }: HistoryEntry): Deed {
  return { kind, id, said: `${string}: ${text}`, waits: false };
}

/** The newest thing that was entered by whoever holds this device, of what wasn't taken back. */
function lastOf(
  bench: Bench | undefined,
  waiting: readonly Waiting[],
  me: string | undefined,
  undone: { deed: Deed }[],
): Deed | null {
  if (bench === undefined) return null;
  const isUndone = (id: string) => undone.some(({ deed }) => deed.id === id);
  const own = waiting.findLast(
    ({ instrument, id, refused, shown }) =>
      instrument === bench.instrument.id && !isUndone(id) && refused === null && shown.what !== "change",
  );
  if (own !== undefined && own.shown.what !== "change")
    return { kind: own.shown.what, id: own.id, said: inWords(own.shown), waits: true };
  const told = bench.history.find(
    ({ id, struck, taken, by }) => !isUndone(id) && !struck && !taken && (by === null || by === me),
  );
  return told === undefined ? null : asDeed(told);
}
