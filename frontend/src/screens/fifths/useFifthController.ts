import { useState } from "react";

import { enterMove, enterSettings, useBench } from "../../api/bench";
import { madeOn, newId } from "../../api/client";
import type { NewCheck } from "../../api/fifths";
import { useFifthChecks, useFifths } from "../../api/fifths";
import type { MoveMade } from "../../api/moves";
import { useOutbox } from "../../api/outbox/benchOutbox";
import { useSimulatedPlaying, useTakenInHand } from "../../parts/simulated/useSimulatedPlaying";
import type { FifthSettled } from "../../sound/socket";
import { useListening } from "../../sound/useListening";

/** Everything a person can do about the fifths of one instrument. */
export function useFifthController(instrumentId: string) {
  const bench = useBench(instrumentId);
  const tuningId = bench.data?.tuning.id;
  const fifths = useFifths(tuningId, bench.data?.log_version ?? 0);
  const checks = useFifthChecks(tuningId, instrumentId);
  const waiting = useOutbox().filter((entry) => entry.instrument === instrumentId);
  const [chosen, setChosen] = useState<string | null>(null);
  const [simulated, setSimulated] = useState(useTakenInHand());

  const links = fifths.data?.links ?? [];
  const wanted = chosen ?? fifths.data?.to_play[0] ?? null;
  const link = links.find((each) => each.lower === wanted) ?? links.at(-1) ?? null;

  const keep = (lower: string, upper: string, check: NewCheck["check"]) => {
    setChosen(lower);
    checks.keep.mutate({ id: newId(), lower, upper, check, ...madeOn(fifths.data) });
  };
  const listening = useListening(
    "fifth",
    bench.data?.instrument.kind,
    bench.data?.tuning,
    ({ strings, fifth, plus_minus_cents }: FifthSettled) => {
      if (fifth.lower_hz == null || fifth.upper_hz == null) return;
      keep(strings[0], strings[1], {
        way: "double-stop",
        lower_hz: fifth.lower_hz,
        upper_hz: fifth.upper_hz,
        plus_minus_cents,
        source: simulated ? "simulated" : "microphone",
      });
    },
  );
  const playing = useSimulatedPlaying(instrumentId, simulated, (source) => listening.listenTo(source.open));
  return {
    bench,
    fifths,
    simulated,
    toggleSimulated: () => {
      listening.stop();
      setSimulated(!simulated);
    },
    playing,
    link,
    choose: setChosen,
    check: (check: NewCheck["check"]) => {
      if (link !== null) keep(link.lower, link.upper, check);
    },
    files: (files: File[]) => {
      for (const file of files) checks.record.mutate({ id: newId(), file });
    },
    moved: (string: string, move: MoveMade) => {
      setChosen(null);
      if (bench.data !== undefined) enterMove(bench.data, string, move).catch(() => undefined);
    },
    width: (fifthCents: number) => {
      if (bench.data !== undefined) {
        enterSettings(bench.data, { target: { fifth_cents: fifthCents } }).catch(() => undefined);
      }
    },
    strike: checks.strike.mutate,
    waiting,
    hearing: checks.record.isPending,
    error: checks.keep.error ?? checks.record.error ?? checks.strike.error ?? checks.keep.failureReason,
    listening,
  };
}
