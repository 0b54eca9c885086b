import { useMemo, useState } from "react";
import { useLocation, useNavigate } from "react-router";

import type { Begin, Simulated } from "../../api/simulated";
import { useSimulated, useSimulatedHands } from "../../api/simulated";
import type { How } from "../../sound/simulated";
import { SimulatedSource } from "../../sound/simulated";

export interface SimulatedPlaying {
  seen: Simulated | null;
  source: SimulatedSource;
  bowed: string[];
  pegAngles: Record<string, number>;
  pushed: boolean;
  error: Error | null;
  begin: (begin: Begin) => void;
  bow: (strings: string[]) => void;
  pluck: (strings: string[]) => void;
  turnPeg: (string: string, clockwise: number) => void;
  turnScrew: (string: string, clockwise: number) => void;
  tug: (string: string) => void;
  easeBridge: () => void;
  putRight: () => void;
  togglePushed: () => void;
}

/** Told to a screen that is gone to with a simulated instrument in the hands. */
const SIMULATED = { simulated: true };

/** Whether this screen was gone to with a simulated instrument in the hands. */
export function useTakenInHand(): boolean {
  const { state } = useLocation() as { state: Partial<typeof SIMULATED> | null };
  return state?.simulated === true;
}

/** A simulated instrument and the hands on it. `listen`: make sure somebody listens before it sounds. */
export function useSimulatedPlaying(
  instrumentId: string,
  wanted: boolean,
  listen: (source: SimulatedSource) => Promise<void>,
): SimulatedPlaying {
  const source = useMemo(() => new SimulatedSource(instrumentId), [instrumentId]);
  const seen = useSimulated(instrumentId, wanted);
  const navigate = useNavigate();
  const { pathname } = useLocation();
  const { begin, act } = useSimulatedHands(instrumentId, (twin) => {
    if (twin !== instrumentId) void navigate(pathname.replace(instrumentId, twin), { state: SIMULATED });
  });
  const [bowed, setBowed] = useState<string[]>([]);
  const [pegAngles, setPegAngles] = useState<Record<string, number>>({});
  const [pushed, setPushed] = useState(true);

  const sound = (strings: string[], how: How) => {
    setBowed(how === "bow" ? strings : []);
    if (strings.length === 0) {
      source.play([], how);
      return;
    }
    void listen(source).then(() => {
      source.play(strings, how);
    });
  };
  return {
    seen: seen.data ?? null,
    source,
    bowed,
    pegAngles,
    pushed,
    error: begin.error ?? act.error ?? seen.error,
    begin: (body) => {
      setPegAngles({});
      begin.mutate(body);
    },
    bow: (strings) => {
      sound(strings, "bow");
    },
    pluck: (strings) => {
      sound(strings, "pluck");
    },
    turnPeg: (string, clockwise) => {
      setPegAngles((before) => ({ ...before, [string]: (before[string] ?? 0) + clockwise * 6 }));
      act.mutate({ string, degrees: clockwise, pushed });
    },
    turnScrew: (string, clockwise) => {
      act.mutate({ string, turns: clockwise });
    },
    tug: (string) => {
      act.mutate({ string, tug: true });
    },
    easeBridge: () => {
      act.mutate({ ease_bridge: true });
    },
    putRight: () => {
      act.mutate({ put_right: true });
    },
    togglePushed: () => {
      setPushed((before) => !before);
    },
  };
}
