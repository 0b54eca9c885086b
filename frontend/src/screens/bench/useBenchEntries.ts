import { useCallback } from "react";

import {
  useAddMove,
  useAddReading,
  useAnswerMove,
  useNewTuning,
  useRestore,
  useStrike,
  useStringFittings,
  useTuningSettings,
} from "../../api/bench";
import type { Bench, NewReading } from "../../api/client";
import { madeOn, newId } from "../../api/client";
import type { MoveMade } from "../../api/moves";
import { settingsOf } from "./settingsOf";

/** What is entered at a bench and sent to the server: readings, moves, strikes, settings, fittings. */
export function useBenchEntries(instrumentId: string, bench: Bench | undefined) {
  const addReading = useAddReading(instrumentId);
  const addMove = useAddMove(instrumentId);
  const strike = useStrike(instrumentId);
  const answer = useAnswerMove(instrumentId);
  const restore = useRestore(instrumentId);
  const settings = useTuningSettings(instrumentId);
  const fittings = useStringFittings(instrumentId);
  const begin = useNewTuning(instrumentId);
  const { mutateAsync: sendReading } = addReading;
  const tuningId = bench?.tuning.id;
  const seen = bench?.log_version;

  const keepReading = useCallback(
    async (reading: NewReading): Promise<Bench> => {
      if (tuningId === undefined || seen === undefined) throw new Error("There is no tuning yet.");
      return sendReading({ tuningId, reading: { ...madeOn({ log_version: seen }), ...reading } });
    },
    [sendReading, tuningId, seen],
  );
  const keepMove = (string: string, move: MoveMade) => {
    if (tuningId !== undefined) {
      addMove.mutate({ tuningId, move: { ...move, id: newId(), string, ...madeOn(bench) } });
    }
  };
  return {
    keepReading,
    keepMove,
    forgetError: addReading.reset,
    strike: strike.mutate,
    restore: restore.mutate,
    answerMove: answer.mutate,
    strikeLast: () => {
      const last = bench?.history.find((entry) => !entry.struck);
      if (last !== undefined) strike.mutate({ kind: last.kind, id: last.id });
    },
    newTuning: () => {
      begin.mutate(bench === undefined ? {} : settingsOf(bench));
    },
    changeSettings: (changed: Parameters<typeof settings.mutate>[0]["settings"]) => {
      if (tuningId !== undefined) settings.mutate({ tuningId, settings: changed });
    },
    changeFittings: (of: string, changed: Parameters<typeof fittings.mutate>[0]["fittings"]) => {
      fittings.mutate({ name: of, fittings: changed });
    },
    sending: addReading.isPending || addMove.isPending,
    error:
      addReading.error ??
      addReading.failureReason ??
      addMove.error ??
      addMove.failureReason ??
      answer.error ??
      strike.error,
  };
}
