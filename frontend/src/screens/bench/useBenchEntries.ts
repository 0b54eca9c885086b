import { useCallback } from "react";

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
import type { Bench, MoveAnswer, NewReading, StringFittings, TuningSettings } from "../../api/client";
import type { MoveMade } from "../../api/moves";
import { useOutbox } from "../../api/outbox/benchOutbox";
import { settingsOf } from "./settingsOf";

/** What is entered at a bench and sent to the server: readings, moves, strikes, settings, fittings. */
export function useBenchEntries(instrumentId: string, bench: Bench | undefined) {
  const fittings = useStringFittings(instrumentId);
  const waiting = useOutbox();

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
  return {
    keepReading,
    keepMove: (string: string, move: MoveMade) => {
      if (bench !== undefined) quietly(enterMove(bench, string, move));
    },
    strike: (entry: EntryRef) => {
      quietly(enterStrike(instrumentId, entry));
    },
    restore: (entry: EntryRef) => {
      quietly(enterStrike(instrumentId, entry, true));
    },
    answerMove: (move: string, answer: MoveAnswer) => {
      quietly(enterAnswer(instrumentId, move, answer));
    },
    strikeLast: () => {
      const own = waiting.findLast(
        (entry) => entry.instrument === instrumentId && entry.shown.what !== "change",
      );
      if (own !== undefined && own.shown.what !== "change") {
        quietly(enterStrike(instrumentId, { kind: own.shown.what, id: own.id }));
        return;
      }
      const last = bench?.history.find((entry) => !entry.struck && !entry.taken);
      if (last !== undefined) quietly(enterStrike(instrumentId, { kind: last.kind, id: last.id }));
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
