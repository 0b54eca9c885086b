import { useCallback, useEffect, useRef, useState } from "react";

import { answered, api, Away } from "../api/client";
import { queries } from "../api/queries";
import { begunSound, startTones } from "./startTones";

interface ToneOf {
  instrument: string;
  string: string;
  a4: number;
  fifth_cents: number;
  octaves_up?: number;
  /** A microphone hears the string beside it. */
  followed?: boolean;
}

const MOST_TRIES = 4;

/** What makes up a tone; kept, as it never changes. Asked for again for some seconds: later nobody waits for it any more. */
function tellOf(of: ToneOf) {
  return queries.fetchQuery({
    queryKey: ["tone", of],
    queryFn: () => answered(api.GET("/api/tone", { params: { query: of } })),
    staleTime: Infinity,
    retry: (tries, error) => tries < MOST_TRIES && error instanceof Away,
  });
}

/**
 * A reference tone: steady, rich in partials, without a seam for as long as wanted. It counts as sounding from the press on: what was
 * stopped, or another asked for, before it came is not begun.
 */
export function useTone() {
  const [sounding, setSounding] = useState<ToneOf | null>(null);
  const stopper = useRef<(() => void) | null>(null);
  const asked = useRef(0);

  const stop = useCallback(() => {
    asked.current += 1;
    stopper.current?.();
    stopper.current = null;
    setSounding(null);
  }, []);

  const sound = useCallback(
    async (of: ToneOf) => {
      stop();
      begunSound();
      setSounding(of);
      const place = asked.current;
      const tone = await tellOf(of).catch(() => null);
      if (place !== asked.current) return;
      if (tone === null) setSounding(null);
      else stopper.current = startTones([tone]);
    },
    [stop],
  );

  useEffect(() => stop, [stop]);
  return { sounding, sound, stop };
}
