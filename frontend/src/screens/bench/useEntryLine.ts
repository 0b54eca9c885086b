import type { KeyboardEvent } from "react";
import { useCallback, useEffect, useRef } from "react";

import type { BenchMemory } from "./useBenchMemory";

const APART_MS = 500;

interface Remembers {
  memory: BenchMemory;
  remember: (change: (before: BenchMemory) => Partial<BenchMemory>) => void;
}

/** The line a reading is typed in: its text, its focus, its arrow keys. `name`: the string it speaks of. */
export function useEntryLine(name: string | null, { memory, remember }: Remembers) {
  const inputRef = useRef<HTMLInputElement>(null);
  const lastEnter = useRef(-Infinity);
  const text = name === null ? "" : (memory.typed[name] ?? "");
  const setText = (to: string) => {
    if (name !== null) remember(({ typed }) => ({ typed: { ...typed, [name]: to } }));
  };
  const focus = useCallback(() => inputRef.current?.focus({ preventScroll: true }), []);
  useEffect(() => {
    // Where a finger points, a focused line would open the keyboard over the page.
    if (!window.matchMedia("(pointer: coarse)").matches && !isElsewhere()) focus();
  }, [name, focus]);
  const onKey = (event: KeyboardEvent<HTMLInputElement>) => {
    if (event.key === "Enter" && event.repeat) event.preventDefault();
    const by = { ArrowUp: 1, ArrowDown: -1 }[event.key];
    if (by !== undefined) {
      event.preventDefault();
      setText(nudged(text, by));
    }
  };
  /** Whether an Enter is a deliberate one, and not the end of the one before. */
  const isDeliberate = (): boolean => {
    const before = lastEnter.current;
    lastEnter.current = performance.now();
    return lastEnter.current - before > APART_MS;
  };
  return { inputRef, text, setText, focus, onKey, isDeliberate };
}

/** Whether someone types or chooses elsewhere: in a field of its own, a dialog or an open panel. */
function isElsewhere(): boolean {
  const at = document.activeElement;
  return at instanceof HTMLElement && at.id !== "entry" && at.closest("input, select, textarea, [role=dialog]") !== null;
}

/** The figure at the end of the line, one cent on. */
function nudged(text: string, by: number): string {
  const match = /^(.*?)([+\-−]?\d+)?$/.exec(text);
  const before = Number((match?.[2] ?? "0").replace("−", "-"));
  const after = Math.max(-50, Math.min(50, before + by));
  return `${match?.[1] ?? ""}${after < 0 ? "−" : "+"}${String(Math.abs(after))}`;
}
