import { useCallback, useEffect, useRef, useState } from "react";

import { answered, api } from "../api/client";

interface ToneOf {
  instrument: string;
  string: string;
  a4: number;
  fifth_cents: number;
}

/** A reference tone: steady, rich in partials, without a seam for as long as wanted. */
export function useTone() {
  const [sounding, setSounding] = useState<string | null>(null);
  const stopper = useRef<(() => void) | null>(null);

  const stop = useCallback(() => {
    stopper.current?.();
    stopper.current = null;
    setSounding(null);
  }, []);

  const sound = useCallback(
    async (of: ToneOf) => {
      stop();
      const tone = await answered(api.GET("/api/tone", { params: { query: of } }));
      stopper.current = startTone(tone.hz, tone.partials, tone.level);
      setSounding(of.string);
    },
    [stop],
  );

  useEffect(() => stop, [stop]);
  return { sounding, sound, stop };
}

/** Starts a tone and gives back what ends it; soft at both ends. */
function startTone(hz: number, partials: number[], level: number): () => void {
  const context = new AudioContext();
  const oscillator = context.createOscillator();
  const sines = new Float32Array([0, ...partials]);
  oscillator.setPeriodicWave(context.createPeriodicWave(new Float32Array(sines.length), sines));
  oscillator.frequency.value = hz;
  const gain = context.createGain();
  gain.gain.setValueAtTime(0, context.currentTime);
  gain.gain.linearRampToValueAtTime(level, context.currentTime + 0.05);
  oscillator.connect(gain).connect(context.destination);
  oscillator.start();
  return () => {
    gain.gain.cancelScheduledValues(context.currentTime);
    gain.gain.setTargetAtTime(0, context.currentTime, 0.02);
    setTimeout(() => void context.close(), 150);
  };
}
