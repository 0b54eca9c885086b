import { useEffect, useRef } from "react";

export interface PageKeys {
  answer: (place: number) => void;
  stepBy: (by: number) => void;
  openKeys: (open: boolean) => void;
  keysOpen: boolean;
  strikeLast: () => void;
  listening: boolean;
  takeNow: () => void;
  hold: () => void;
}

/** Keys that work wherever the focus is: page-turn pedals step the strings. */
export function usePageKeys(does: PageKeys): void {
  const latest = useRef(does);
  useEffect(() => {
    latest.current = does;
  });
  useEffect(() => {
    const onKey = (event: globalThis.KeyboardEvent) => {
      const { answer, stepBy, openKeys, keysOpen, strikeLast, listening, takeNow, hold } = latest.current;
      const inLine = event.target instanceof HTMLInputElement;
      const typed = inLine ? event.target.value : "";
      const free = listening && typed === "" && !(event.target instanceof HTMLButtonElement);
      const acts: Record<string, (() => void) | undefined> = {
        PageDown: () => {
          stepBy(1);
        },
        PageUp: () => {
          stepBy(-1);
        },
        "?": () => {
          openKeys(!keysOpen);
        },
      };
      if (free) Object.assign(acts, { " ": takeNow, h: hold, Backspace: strikeLast });
      if (event.altKey && /^[1-9]$/.test(event.key)) {
        event.preventDefault();
        answer(Number(event.key) - 1);
        return;
      }
      const act = event.ctrlKey && event.key === "z" && typed === "" ? strikeLast : acts[event.key];
      if (act === undefined) return;
      event.preventDefault();
      act();
    };
    window.addEventListener("keydown", onKey);
    return () => {
      window.removeEventListener("keydown", onKey);
    };
  }, []);
}
