import { useEffect, useState } from "react";

import { useTakenInHand } from "../../parts/simulated/useSimulatedPlaying";
import type { SoundFrom } from "./WhereFrom";
import { usualOnThisDevice } from "./WhereFrom";

/** What a person had before them at a bench, beside what is stored: it survives a reload of the page. */
export interface BenchMemory {
  /** The string they chose; null: the next one. */
  chosen: string | null;
  /** Where the readings come from, as they chose; null: as it was last. */
  from: SoundFrom | null;
  /** What is typed and not entered, by string. */
  typed: Record<string, string>;
}

const CLEAN: BenchMemory = { chosen: null, from: null, typed: {} };

/**
 * Kept for this tab while it stays at this bench; whoever leaves the bench and comes back starts clean. `goesBy`: what was gone by
 * before, once the bench is there; a device where nothing was chosen yet begins with that, and stays with it.
 */
export function useBenchMemory(instrumentId: string, goesBy: SoundFrom | null | undefined) {
  const key = `pondus-bench-${instrumentId}`;
  const taken = useTakenInHand();
  const [memory, setMemory] = useState<BenchMemory>(
    () => read(key) ?? { ...CLEAN, from: taken ? "simulated" : usualOnThisDevice() },
  );
  if (memory.from === null && goesBy !== undefined) setMemory({ ...memory, from: goesBy ?? "tuner" });
  useEffect(() => {
    write(key, memory);
  }, [key, memory]);
  useEffect(
    () => () => {
      write(key, null);
    },
    [key],
  );
  const remember = (change: Partial<BenchMemory> | ((before: BenchMemory) => Partial<BenchMemory>)) => {
    setMemory((before) => ({ ...before, ...(typeof change === "function" ? change(before) : change) }));
  };
  return { memory, remember };
}

/** What the bench of an instrument opens with, the next time it is come to in this tab. */
export function beginBenchWith(instrumentId: string, memory: Partial<BenchMemory>): void {
  write(`pondus-bench-${instrumentId}`, { ...CLEAN, ...memory });
}

function read(key: string): BenchMemory | null {
  try {
    const stored = sessionStorage.getItem(key);
    return stored === null ? null : { ...CLEAN, ...(JSON.parse(stored) as Partial<BenchMemory>) };
  } catch {
    return null;
  }
}

function write(key: string, memory: BenchMemory | null): void {
  try {
    if (memory === null) sessionStorage.removeItem(key);
    else sessionStorage.setItem(key, JSON.stringify(memory));
  } catch {
    return; // a browser that keeps nothing: then only the page's memory is left
  }
}
