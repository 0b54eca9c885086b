import { useEffect, useRef } from "react";

interface PageKeys {
  answer: (place: number) => void;
  /** There are fields to press and no line: a figure is the place of one. */
  hasFields: boolean;
  stepBy: (by: number) => void;
  openKeys: (open: boolean) => void;
  keysOpen: boolean;
  strikeLast: () => void;
  listening: boolean;
  takeNow: () => void;
  hold: () => void;
  /** H is a note here: it belongs into the line. */
  hIsNote: boolean;
  /** Where keys go once a button was pressed with a finger or a mouse. */
  home: () => void;
}

/**
 * Keys that work wherever the focus is at the bench: page-turn pedals step the strings. Not in a field of its own, and not in
 * an open panel or dialog: there they mean what they mean everywhere.
 */
export function usePageKeys(does: PageKeys): void {
  const latest = useRef(does);
  useEffect(() => {
    latest.current = does;
  });
  // The button that began to listen keeps no key to itself either: Space would stop it again.
  useEffect(() => {
    const at = document.activeElement;
    if (does.listening && at instanceof HTMLButtonElement && !isPanel(at)) latest.current.home();
  }, [does.listening]);
  useEffect(() => {
    const onKey = (event: globalThis.KeyboardEvent) => {
      const act = actOf(event, latest.current);
      if (act === null) return;
      event.preventDefault();
      act();
    };
    // A button that was pressed with a finger keeps no key to itself: Space while listening takes the reading.
    const onClick = (event: MouseEvent) => {
      const at = document.activeElement;
      const pressed = event.detail > 0 && at instanceof HTMLButtonElement && !at.hasAttribute("aria-haspopup");
      if (latest.current.listening && pressed && !isPanel(at)) latest.current.home();
    };
    window.addEventListener("keydown", onKey);
    window.addEventListener("click", onClick);
    return () => {
      window.removeEventListener("keydown", onKey);
      window.removeEventListener("click", onClick);
    };
  }, []);
}

/** What a key does now; null: what it does everywhere. */
function actOf(event: globalThis.KeyboardEvent, does: PageKeys): (() => void) | null {
  const at = event.target instanceof HTMLElement ? event.target : document.body;
  const line = at instanceof HTMLInputElement && at.id === "entry" ? at : null;
  const commanded = event.ctrlKey || event.metaKey;
  if (does.keysOpen)
    return event.key === "?"
      ? () => {
          does.openKeys(false);
        }
      : null;
  if (isPanel(at) || (line === null && isField(at))) return null;
  const empty = line === null || line.value === "";
  const isPlace = /^(Digit|Numpad)?[1-9]$/.test(event.code) && (event.altKey || (does.hasFields && line === null));
  if (isPlace && !commanded) {
    const place = Number(event.code.slice(-1)) - 1;
    return once(event, () => {
      does.answer(place);
    });
  }
  if (commanded) {
    const undo = event.key.toLowerCase() === "z" && !event.shiftKey && !event.altKey && empty;
    return undo ? once(event, does.strikeLast) : null;
  }
  if (event.altKey) return null;
  switch (event.key) {
    case "PageDown":
      return () => {
        does.stepBy(1);
      };
    case "PageUp":
      return () => {
        does.stepBy(-1);
      };
    case "?":
      return empty
        ? () => {
            does.openKeys(true);
          }
        : null;
    case " ":
    case "Backspace":
    case "h":
    case "H":
      if (does.hIsNote && line !== null && event.key !== " " && event.key !== "Backspace") return null;
      return does.listening && empty && !isPressable(at, event.key) ? once(event, whileListening(event.key, does)) : null;
    default:
      return null;
  }
}

function whileListening(key: string, does: PageKeys): () => void {
  if (key === " ") return does.takeNow;
  return key === "Backspace" ? does.strikeLast : does.hold;
}

/** A key that is held down does it once. */
function once(event: globalThis.KeyboardEvent, act: () => void): () => void {
  return event.repeat ? () => undefined : act;
}

function isPanel(at: Element): boolean {
  return at.closest("[role=dialog]") !== null;
}

function isField(at: Element): boolean {
  return at.matches("input:not([type=checkbox]):not([type=radio]), textarea, select, [contenteditable=true]");
}

/** What was reached by keyboard and is pressed by Space. */
function isPressable(at: Element, key: string): boolean {
  return key === " " && at.matches("button, [role=radio], [role=switch], summary, a[href], input:not(#entry)");
}
