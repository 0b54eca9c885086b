import { useCallback, useEffect, useRef, useState } from "react";

import { answered, api } from "../api/client";
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

/** A reference tone: steady, rich in partials, without a seam for as long as wanted. */
export function useTone() {
  const [sounding, setSounding] = useState<ToneOf | null>(null);
  const stopper = useRef<(() => void) | null>(null);

  const stop = useCallback(() => {
    stopper.current?.();
    stopper.current = null;
    setSounding(null);
  }, []);

  const sound = useCallback(
    async (of: ToneOf) => {
      stop();
      begunSound();
      const tone = await answered(api.GET("/api/tone", { params: { query: of } }));
      stopper.current = startTones([tone]);
      setSounding(of);
    },
    [stop],
  );

  useEffect(() => stop, [stop]);
  return { sounding, sound, stop };
}
