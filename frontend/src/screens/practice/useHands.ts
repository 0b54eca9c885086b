import { useCallback, useEffect, useEffectEvent, useRef, useState } from "react";

import type { Action, Go, Hands } from "../../api/practice";
import { askHands, askSound } from "../../api/practice";
import type { Loudspeaker } from "../../sound/practice";
import { BowedInHand } from "../../sound/practice";

interface InHands {
  hands: Hands | null;
  actions: Action[];
  pegAngles: Record<string, number>;
  pushed: boolean;
  bowing: boolean;
  /** What the tuner shows is of the string as it stands now. */
  fresh: boolean;
  error: Error | null;
  /** What is sounded of a whole instrument: a string, or two neighbours; null: what the question is about. */
  strings: string[] | null;
  act: (action: Action) => void;
  pluck: () => void;
  bow: (on: boolean) => void;
  /** Bow these of a whole instrument from now on. */
  bowThese: (strings: string[]) => void;
  togglePushed: () => void;
}

/** A simulated instrument in someone’s hands: all that was done to it is kept here, and sent along each time. */
export function useHands(go: Go, loudspeaker: Loudspeaker): InHands {
  const [strings, setStrings] = useState<string[] | null>(null);
  const string = strings?.length === 1 ? (strings[0] ?? null) : null;
  const place = `pondus-hands-${go.go_id ?? ""}-${String(go.number)}`;
  const [actions, setActions] = useState<Action[]>(() => keptActions(place));
  const [hands, setHands] = useState<Hands | null>(null);
  const [pegAngles, setPegAngles] = useState<Record<string, number>>(() => anglesAfter(actions));
  const [pushed, setPushed] = useState(true);
  const [bowing, setBowing] = useState(false);
  const [heardAt, setHeardAt] = useState<number | null>(null);
  const [error, setError] = useState<Error | null>(null);
  const asked = useRef(0);
  const [bowed] = useState(() => new BowedInHand(loudspeaker));

  const look = useCallback(
    (done: Action[], of: string | null) => {
      const mine = ++asked.current;
      askHands(go, done, of).then(
        (found) => {
          if (mine !== asked.current) return;
          setHands(found);
          setError(null);
        },
        (reason: unknown) => {
          setError(reason instanceof Error ? reason : null);
        },
      );
    },
    [go],
  );
  const lookAtFirst = useEffectEvent(() => {
    look(actions, null);
  });
  useEffect(() => {
    lookAtFirst();
  }, []);
  useEffect(() => {
    bowed.whenQuiet(() => {
      setBowing(false);
    });
    return () => {
      bowed.stop();
    };
  }, [bowed]);

  const sound = (how: "pluck" | "bow", done: Action[], of = strings) => {
    askSound(go, "string", how, done, of).then(
      (wav) => loudspeaker.play(wav),
      (reason: unknown) => {
        setError(reason instanceof Error ? reason : null);
      },
    );
  };
  const act = (action: Action) => {
    const done = [...actions, action];
    setActions(done);
    keepActions(place, go.go_id === null ? [] : done);
    setPegAngles(anglesAfter(done));
    bowed.turn(action);
    look(done, string);
    // No socket: the string is bowed anew after each turn.
    if (bowed.refused && go.question?.task?.how === "bow") sound("bow", done);
  };
  const bow = (on: boolean, of = strings) => {
    setBowing(on);
    if (!on) {
      bowed.stop();
    } else if (bowed.refused) {
      setBowing(false);
      sound("bow", actions, of);
    } else {
      bowed.start(go, actions, of);
    }
    setHeardAt(actions.length);
  };
  return {
    hands,
    actions,
    pegAngles,
    pushed,
    bowing,
    fresh: bowing || heardAt === actions.length,
    error,
    act,
    pluck: () => {
      sound("pluck", actions);
      setHeardAt(actions.length);
    },
    strings,
    bow: (on) => {
      bow(on);
    },
    bowThese: (these) => {
      setStrings(these);
      look(actions, these.length === 1 ? (these[0] ?? null) : null);
      bow(true, these);
    },
    togglePushed: () => {
      setPushed((before) => !before);
    },
  };
}

/** Where each peg's head stands for the eye, after what was turned. */
function anglesAfter(actions: Action[]): Record<string, number> {
  const angles: Record<string, number> = {};
  for (const { string, degrees } of actions) angles[string] = (angles[string] ?? 0) + (degrees ?? 0) * 6;
  return angles;
}

/** What was done to the instrument of a question, if the page was loaded anew in the middle of it. */
function keptActions(place: string): Action[] {
  try {
    return JSON.parse(sessionStorage.getItem(place) ?? "[]") as Action[];
  } catch {
    return [];
  }
}

function keepActions(place: string, actions: Action[]): void {
  try {
    if (actions.length === 0) sessionStorage.removeItem(place);
    else sessionStorage.setItem(place, JSON.stringify(actions));
  } catch {
    return; // a browser that keeps nothing: a reload begins it again
  }
}
