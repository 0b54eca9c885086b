import { useCallback, useEffect, useRef, useState } from "react";

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
  const [actions, setActions] = useState<Action[]>([]);
  const [hands, setHands] = useState<Hands | null>(null);
  const [pegAngles, setPegAngles] = useState<Record<string, number>>({});
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
  useEffect(() => {
    look([], null);
  }, [look]);
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
    if (action.degrees != null) {
      const turned = action.degrees;
      setPegAngles((before) => ({
        ...before,
        [action.string]: (before[action.string] ?? 0) + turned * 6,
      }));
    }
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
