import { LANGUAGE } from "../parts/figures";

/** The platform's voices; none where the browser can't speak. */
function synthesis(): SpeechSynthesis | null {
  return "speechSynthesis" in window ? window.speechSynthesis : null;
}

/** A voice that is on this device and speaks the pages' language: others would send what is said over the network. */
export function ownVoice(): SpeechSynthesisVoice | null {
  const own = synthesis()
    ?.getVoices()
    .filter((voice) => voice.localService);
  const language = LANGUAGE.slice(0, 2);
  return own?.find((voice) => voice.lang === LANGUAGE) ?? own?.find((voice) => voice.lang.startsWith(language)) ?? null;
}

/** Tell when the voices there are change: browsers find them a while after the page. */
export function onVoices(tell: () => void): () => void {
  synthesis()?.addEventListener("voiceschanged", tell);
  return () => synthesis()?.removeEventListener("voiceschanged", tell);
}

export function speak(text: string): void {
  const voice = ownVoice();
  if (voice === null) return;
  const said = new SpeechSynthesisUtterance(text);
  said.voice = voice;
  said.lang = voice.lang;
  synthesis()?.cancel();
  synthesis()?.speak(said);
}

export function hush(): void {
  synthesis()?.cancel();
}

/** What is heard meanwhile is the voice, not a string. */
export function isSpeaking(): boolean {
  return synthesis()?.speaking ?? false;
}
