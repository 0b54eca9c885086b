import { useEffect, useRef, useState, useSyncExternalStore } from "react";

import type { Look } from "./socket";
import { hush, onVoices, ownVoice, speak } from "./speech";

export interface SayAloud {
  on: boolean;
  /** Whether the device has a voice of its own. */
  possible: boolean;
  turn: (on: boolean) => void;
}

const QUIET_MS = 500;

/** Says each new move in one short sentence, once nothing sounds any more; off until it is asked for. */
export function useSayAloud(text: string | null, hears: Look["hears"]): SayAloud {
  const [on, setOn] = useState(false);
  const possible = useSyncExternalStore(onVoices, () => ownVoice() !== null);
  const said = useRef<string | null>(null);
  const quiet = hears === "quiet";
  useEffect(() => {
    if (!on || !quiet || text === null || text === said.current) return undefined;
    const timer = setTimeout(() => {
      said.current = text;
      speak(spoken(text));
    }, QUIET_MS);
    return () => {
      clearTimeout(timer);
    };
  }, [on, quiet, text]);
  useEffect(() => hush, []);
  return {
    on,
    possible,
    turn: (to) => {
      said.current = null;
      if (!to) hush();
      setOn(to);
    },
  };
}

/** As a voice can read it: signs as words. */
function spoken(text: string): string {
  return text
    .replace(/♯/g, " sharp")
    .replace(/♭/g, " flat")
    .replace(/−(?=\d)/g, "minus ")
    .replace(/\+(?=\d)/g, "plus ")
    .replace(/¼/g, " a quarter")
    .replace(/½/g, " a half")
    .replace(/¾/g, " three quarters")
    .replace(/⅜/g, " three eighths")
    .replace(/⅛/g, " an eighth")
    .replace(/°/g, " degrees");
}
