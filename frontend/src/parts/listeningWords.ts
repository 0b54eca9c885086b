import { signed } from "./figures";
import type { Look, Settled } from "../sound/socket";
import type { ListeningState } from "../sound/useListening";

/** What the microphone hears just now, in words. */
export function listeningWords(state: ListeningState, look: Look | null): string {
  if (state.status === "opening") return "Opening the microphone…";
  if (state.status === "lost") return "The connection is lost; trying again. Typed readings are kept until it is back.";
  if (look === null) return "Listening: play any string.";
  if (look.clipping) return "Too loud, it clips: move the microphone away.";
  const before = look.ear?.stop ?? look.said;
  if (before != null) return before;
  if (look.is_softer === true) return "Much softer than your strings: left out.";
  return look.now;
}

/** What was much softer than the instrument's own strings, in words. */
export function softerWords({ reading }: Settled): string {
  const heard = `${reading.note ?? "Something"} ${signed(reading.cents ?? 0)}`;
  return `${heard} left out: much softer than your strings. If it was yours, play louder.`;
}
