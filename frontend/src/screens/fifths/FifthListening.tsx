import { Mic, MicOff } from "lucide-react";

import { Button } from "../../parts/Button";
import { fromPure } from "./fromPure";
import { LevelMeter } from "../../parts/LevelMeter";
import { RecordingPicker } from "../../parts/RecordingPicker";
import { Trouble } from "../../parts/Trouble";
import type { FifthLook } from "../../sound/socket";
import type { ListeningState } from "../../sound/useListening";

interface FifthListeningProps {
  state: ListeningState;
  look: FifthLook | null;
  hearing: boolean;
  simulated: boolean;
  onSimulated: () => void;
  onStart: () => void;
  onStop: () => void;
  onFiles: (files: File[]) => void;
}

/** Where double stops come from: the microphone, or recordings chosen here or dropped on the page. */
export function FifthListening(props: FifthListeningProps) {
  const { state, look, hearing, simulated, onSimulated, onStart, onStop, onFiles } = props;
  const on = state.status === "listening" || state.status === "lost" || state.status === "opening";
  return (
    <section aria-label="Listening" className="flex flex-col gap-2">
      <div className="flex flex-wrap items-center gap-2">
        {on ? (
          <Button onClick={onStop}>
            <MicOff size={20} aria-hidden /> Stop listening
          </Button>
        ) : (
          <Button look="main" onClick={onStart}>
            <Mic size={20} aria-hidden /> Listen to two strings
          </Button>
        )}
        <Button aria-pressed={simulated} onClick={onSimulated}>
          Simulated instrument
        </Button>
        <RecordingPicker hint="or drop one of a double stop here" onFiles={onFiles} />
      </div>
      {hearing && <p role="status">Hearing the recording…</p>}
      {on && <LevelMeter heard={inFigures(look)} look={look} words={inWords(state, look)} />}
      {state.status === "trouble" && <Trouble error={new Error(state.message)} />}
    </section>
  );
}

function inFigures(look: FifthLook | null): string {
  if (look?.strings == null || look.from_pure_cents == null) return "–";
  return `${look.strings.join("–")} ${fromPure(look.from_pure_cents)}`;
}

function inWords(state: ListeningState, look: FifthLook | null): string {
  if (state.status === "opening") return "Opening the microphone…";
  if (state.status === "lost") return "The connection is lost; trying again.";
  if (look === null || look.hears === "quiet") return "Bow two neighbours together, softly and evenly.";
  if (look.clipping) return "Too loud, it clips: move the microphone away.";
  if (look.hears === "fifth") return "Heard both; play on until it is kept.";
  return look.said === null ? "Listening…" : `Not yet: ${look.said}.`;
}
