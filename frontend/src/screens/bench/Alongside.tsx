import { Mic, MicOff } from "lucide-react";

import { Button } from "../../parts/Button";
import { Trouble } from "../../parts/Trouble";
import type { Look } from "../../sound/socket";
import type { ListeningState } from "../../sound/useListening";

export interface AlongsideProps {
  state: ListeningState;
  look: Look | null;
  /** What is to be said of what is heard; null: nothing. */
  alongside: string | null;
  onStart: () => void;
  onStop: () => void;
}

/** A microphone that follows an ear, and keeps still unless the two differ. */
export function Alongside({ state, look, alongside, onStart, onStop }: AlongsideProps) {
  const on = state.status !== "off" && state.status !== "trouble";
  return (
    <section aria-label="The microphone along with your ear" className="flex flex-col gap-2">
      {on && alongside !== null && (
        <p role="alert" className="rounded-md border-2 border-ink bg-lit px-3 py-2 text-lg font-bold">
          {alongside}
        </p>
      )}
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1">
        <Button aria-pressed={on} onClick={on ? onStop : onStart}>
          {on ? <MicOff size={20} aria-hidden /> : <Mic size={20} aria-hidden />}
          {on ? "Stop listening along" : "Listen along"}
        </Button>
        <span className="min-w-0 flex-1 text-pencil">
          {on ? heardWords(look) : "This device can check your ear while the tone sounds."}
        </span>
      </div>
      {state.status === "trouble" && <Trouble error={new Error(state.message)} />}
    </section>
  );
}

function heardWords(look: Look | null): string {
  if (look?.string == null) return "It hears no string yet: play it while the tone sounds.";
  return `It hears the ${look.string}, and speaks up only if it hears it elsewhere than you do.`;
}
