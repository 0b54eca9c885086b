import type { KeyboardEvent } from "react";
import { useEffect, useRef, useState } from "react";

/** The line a reading is typed in: its text, its focus, its arrow keys. `name`: the string it speaks of. */
export function useEntryLine(name: string | null) {
  const inputRef = useRef<HTMLInputElement>(null);
  const [text, setText] = useState("");
  const focus = () => inputRef.current?.focus({ preventScroll: true });
  useEffect(() => {
    if (window.matchMedia("(pointer: fine)").matches) inputRef.current?.focus({ preventScroll: true });
  }, [name]);
  const onKey = (event: KeyboardEvent<HTMLInputElement>) => {
    const by = { ArrowUp: 1, ArrowDown: -1 }[event.key];
    if (by !== undefined) {
      event.preventDefault();
      setText((before) => nudged(before, by));
    }
  };
  return { inputRef, text, setText, focus, onKey };
}

/** The figure at the end of the line, one cent on. */
function nudged(text: string, by: number): string {
  const match = /^(.*?)([+\-−]?\d+)?$/.exec(text);
  const before = Number((match?.[2] ?? "0").replace("−", "-"));
  const after = Math.max(-50, Math.min(50, before + by));
  return `${match?.[1] ?? ""}${after < 0 ? "−" : "+"}${String(Math.abs(after))}`;
}
