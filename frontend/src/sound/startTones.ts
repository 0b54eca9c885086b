/** One steady tone: its pitch, each partial's level relative to the first, and its peak level re full scale. */
export interface SteadyTone {
  hz: number;
  partials: number[];
  level: number;
}

/** Starts tones together and gives back what ends them; soft at both ends. */
export function startTones(tones: SteadyTone[]): () => void {
  const context = new AudioContext();
  const ends = tones.map((tone) => startOne(context, tone));
  return () => {
    for (const end of ends) end();
    setTimeout(() => void context.close(), 150);
  };
}

function startOne(context: AudioContext, { hz, partials, level }: SteadyTone): () => void {
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
  };
}
