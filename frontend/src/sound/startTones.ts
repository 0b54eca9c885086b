/** One steady tone: its pitch, each partial's level relative to the first, and its peak level re full scale. */
interface SteadyTone {
  hz: number;
  partials: number[];
  level: number;
}

const FADES_MS = 150;
/** How long the device's sound is kept ready after the last tone: the next may come without a press. */
const READY_MS = 60_000;

let ready: AudioContext | null = null;
let sounding = 0;
let letGo: ReturnType<typeof setTimeout> | undefined;

/**
 * The page's sound, one for all tones. Some browsers let it begin only in the midst of a press: whoever knows the tones later asks
 * for it then, and steps that follow by the clock find it begun.
 */
export function begunSound(): AudioContext {
  clearTimeout(letGo);
  const context = ready ?? new AudioContext();
  ready = context;
  if (context.state !== "running") void context.resume().catch(() => undefined);
  letGoLater();
  return context;
}

function letGoLater(): void {
  clearTimeout(letGo);
  if (sounding > 0) return;
  letGo = setTimeout(() => {
    void ready?.close();
    ready = null;
  }, READY_MS);
}

/** Starts tones together and gives back what ends them; soft at both ends. */
export function startTones(tones: SteadyTone[]): () => void {
  const context = begunSound();
  clearTimeout(letGo);
  sounding += 1;
  const ends = tones.map((tone) => startOne(context, tone));
  let ended = false;
  return () => {
    if (ended) return;
    ended = true;
    for (const end of ends) end();
    sounding -= 1;
    letGoLater();
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
  oscillator.onended = () => {
    gain.disconnect();
  };
  oscillator.start();
  return () => {
    gain.gain.cancelScheduledValues(context.currentTime);
    gain.gain.setTargetAtTime(0, context.currentTime, 0.02);
    oscillator.stop(context.currentTime + FADES_MS / 1000);
  };
}
