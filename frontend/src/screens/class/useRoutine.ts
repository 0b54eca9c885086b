import { useEffect, useRef, useState } from "react";

import type { ClassRoutine } from "../../api/classes";
import { startTones } from "../../sound/startTones";
import { useAwake } from "../../sound/useAwake";

const TICK_MS = 200;

/** A routine as it runs: its tone, its time, and what pedal and keys do. */
export function useRoutine(routine: ClassRoutine, onStop: () => void) {
  const [at, setAt] = useState(0);
  const [elapsed, setElapsed] = useState(0);
  const [paused, setPaused] = useState(false);
  const tone = useRef<(() => void) | null>(null);
  const step = routine.steps[at];
  useAwake(step !== undefined);

  useEffect(() => {
    if (step === undefined || paused) return;
    const level = routine.level / Math.max(1, step.hz.length);
    tone.current = startTones(step.hz.map((hz) => ({ hz, partials: routine.partials, level })));
    return () => {
      tone.current?.();
      tone.current = null;
    };
  }, [routine, step, paused]);

  useEffect(() => {
    if (step === undefined || paused) return;
    const timer = setInterval(() => {
      setElapsed((before) => before + TICK_MS / 1000);
    }, TICK_MS);
    return () => {
      clearInterval(timer);
    };
  }, [step, paused]);

  const goTo = (place: number) => {
    setAt(Math.max(0, Math.min(routine.steps.length, place)));
    setElapsed(0);
  };
  if (step !== undefined && elapsed >= step.seconds) goTo(at + 1);

  const keys = useRef<(key: string) => boolean>(() => false);
  useEffect(() => {
    keys.current = (key) => {
      if (key === "PageDown") goTo(at + 1);
      else if (key === "PageUp") goTo(at - 1);
      else if (key === " ") setPaused(!paused);
      else if (key === "Escape") onStop();
      else return false;
      return true;
    };
  });
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key === " " && event.target instanceof HTMLButtonElement) return;
      if (keys.current(event.key)) event.preventDefault();
    };
    window.addEventListener("keydown", onKey);
    return () => {
      window.removeEventListener("keydown", onKey);
    };
  }, []);
  return {
    at,
    share: step === undefined ? 1 : Math.min(1, elapsed / step.seconds),
    paused,
    toggle: () => {
      setPaused(!paused);
    },
    next: () => {
      goTo(at + 1);
    },
    back: () => {
      goTo(at - 1);
    },
    again: () => {
      setPaused(false);
      goTo(0);
    },
  };
}
