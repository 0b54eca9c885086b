import { Mic, MicOff, Pause, Play } from "lucide-react";
import { useNavigate } from "react-router";

import { Button } from "../../parts/Button";
import { countOf, signed } from "../../parts/figures";
import { LevelMeter } from "../../parts/LevelMeter";
import { listeningWords, softerWords } from "../../parts/listeningWords";
import { ThisMicrophone } from "../../parts/ThisMicrophone";
import { Trouble } from "../../parts/Trouble";
import { useLingering } from "../../parts/useLasting";
import type { SayAloud } from "../../sound/useSayAloud";
import type { Look, Settled } from "../../sound/socket";
import type { ListeningState } from "../../sound/useListening";

interface ListeningProps {
  state: ListeningState;
  look: Look | null;
  held: boolean;
  asked: Settled | null;
  /** The sound is a simulated instrument's: it is listened to whenever it sounds. */
  simulated: boolean;
  kind: string;
  /** Where two strings are heard together. */
  fifthsAt: string | null;
  aloud: SayAloud;
  onStart: () => void;
  onStop: () => void;
  onHold: () => void;
  onConfirm: () => void;
  onDismiss: () => void;
}

const LINGERS_MS = 2500;

/** The microphone: on or off, what it hears, and what it wants to know. */
export function Listening(props: ListeningProps) {
  const { state, look, held, asked, onStart, onStop, onHold, simulated } = props;
  const on = state.status === "listening" || state.status === "lost" || state.status === "opening";
  const softer = asked?.ask === "softer" ? asked : null;
  const plain = held ? "Held: nothing is kept." : listeningWords(state, look);
  const isTold = look?.said != null || look?.clipping === true || state.status !== "listening";
  const goTo = useNavigate();
  const { fifthsAt } = props;
  const soundsAsTwo = useLingering(look?.reason === "not-a-string", LINGERS_MS);
  const act =
    softer !== null
      ? { name: "It was this one", onPress: props.onConfirm }
      : soundsAsTwo && fifthsAt !== null
        ? { name: "Hear two as a fifth", onPress: () => void goTo(fifthsAt) }
        : undefined;
  const words = softer === null || isTold ? plain : softerWords(softer);
  return (
    <section aria-label="Listening" className="flex flex-col gap-2">
      <div className="flex flex-wrap items-center gap-2">
        {simulated ? null : on ? (
          <Button onClick={onStop}>
            <MicOff size={20} aria-hidden /> Stop listening
          </Button>
        ) : (
          <Button look="main" onClick={onStart}>
            <Mic size={20} aria-hidden /> Listen
          </Button>
        )}
        {on && (
          <Button onClick={onHold} aria-pressed={held}>
            {held ? <Play size={20} aria-hidden /> : <Pause size={20} aria-hidden />}
            {held ? "Go on" : "Hold"}
          </Button>
        )}
        <label className="flex min-h-11 items-center gap-2 px-1">
          <input
            type="checkbox"
            checked={props.aloud.on}
            disabled={!props.aloud.possible}
            onChange={(event) => {
              props.aloud.turn(event.target.checked);
            }}
          />
          Say it aloud
          {!props.aloud.possible && <span className="text-pencil">(no voice on this device)</span>}
        </label>
      </div>
      {on && (
        <LevelMeter
          heard={look?.string == null || look.string_cents == null ? "–" : `${look.string} ${signed(look.string_cents)}`}
          look={look}
          words={words}
          act={act}
        />
      )}
      {state.status === "listening" && state.bends !== null && (
        <p role="status" className="rounded-md border border-ink bg-lit px-3 py-2">
          {state.bends}
        </p>
      )}
      {!simulated && <ThisMicrophone kind={props.kind} on={on} onChosen={onStart} />}
      {state.status === "trouble" && <Trouble error={new Error(state.message)} />}
      {asked !== null && softer === null && <Asked settled={asked} onConfirm={props.onConfirm} onDismiss={props.onDismiss} />}
    </section>
  );
}

function Asked({ settled, onConfirm, onDismiss }: { settled: Settled; onConfirm: () => void; onDismiss: () => void }) {
  const { reading } = settled;
  const off = reading.string_cents ?? 0;
  if (settled.ask === "unsure") {
    return (
      <Question
        said={`It sways: about ${countOf(Math.round(Math.abs(off)), "cent")} ${off < 0 ? "flat" : "sharp"}, no surer than that. Play the ${reading.string ?? ""} again, slower, near the tip.`}
        yes="Keep it all the same"
        no="Leave it"
        onConfirm={onConfirm}
        onDismiss={onDismiss}
      />
    );
  }
  const why =
    settled.ask === "octave" ? "It may be another string's octave, as a harmonic gives." : "It lies between two strings.";
  return (
    <Question
      said={`Heard ${reading.note ?? ""} ${signed(reading.cents ?? 0)}. ${why} Is it the ${reading.string ?? ""} string, ${countOf(Math.round(Math.abs(off)), "cent")} ${off < 0 ? "flat" : "sharp"}?`}
      yes={`Yes, the ${reading.string ?? ""}`}
      no="No"
      onConfirm={onConfirm}
      onDismiss={onDismiss}
    />
  );
}

interface QuestionProps {
  said: string;
  yes: string;
  no: string;
  onConfirm: () => void;
  onDismiss: () => void;
}

function Question({ said, yes, no, onConfirm, onDismiss }: QuestionProps) {
  return (
    <div role="alert" className="flex flex-wrap items-center gap-2 rounded-md border-2 border-ink bg-sheet px-3 py-2">
      <p className="min-w-60 flex-1">{said}</p>
      <Button look="main" onClick={onConfirm}>
        {yes}
      </Button>
      <Button onClick={onDismiss}>{no}</Button>
    </div>
  );
}
