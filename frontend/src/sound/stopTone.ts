import { begunSound } from "./startTones";

const HZ = 1760;
const SECONDS = 0.25;

/** A short soft tone, high above every string, so that it isn't taken for one. */
export function stopTone(): void {
  const context = begunSound();
  const gain = context.createGain();
  const tone = context.createOscillator();
  tone.frequency.value = HZ;
  gain.gain.setValueAtTime(0, context.currentTime);
  gain.gain.linearRampToValueAtTime(0.12, context.currentTime + 0.03);
  gain.gain.linearRampToValueAtTime(0, context.currentTime + SECONDS);
  tone.connect(gain).connect(context.destination);
  tone.start();
  tone.stop(context.currentTime + SECONDS);
  tone.onended = () => {
    gain.disconnect();
  };
}
