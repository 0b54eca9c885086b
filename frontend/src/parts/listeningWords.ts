import { signed } from "./figures";
import type { Look, Settled } from "../sound/socket";
import type { ListeningState } from "../sound/useListening";

/** Softer than that, in dB re full scale, a string hardly stands out of a room. */
const SOFT_BELOW_DB = -48;

/** What the microphone hears just now, in words. */
export function listeningWords(state: ListeningState, look: Look | null): string {
  if (state.status === "opening") return "Opening the microphone…";
  if (state.status === "lost")
    return "The connection is lost; trying again. Typed readings are kept until it is back.";
  if (look === null) return "Listening: play any string.";
  if (look.clipping) return "Too loud, it clips: move the microphone away.";
  if (look.said != null) return look.said;
  if (look.is_softer === true) return "Much softer than your strings: left out.";
  if (look.hears === "quiet") return "Quiet: play any string.";
  if (look.level_db < SOFT_BELOW_DB) return "Too soft: play closer to the microphone.";
  if (look.hears === "noise") return "No clear note yet: play on.";
  if (look.hears === "wavering") return "Play on, softly and evenly…";
  return "Steady.";
}

/** What was much softer than the instrument's own strings, in words. */
export function softerWords({ reading }: Settled): string {
  const heard = `${reading.note ?? "Something"} ${signed(reading.cents ?? 0)}`;
  return `${heard} left out: much softer than your strings. If it was yours, play louder.`;
}
