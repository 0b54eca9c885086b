import { useEffect, useEffectEvent, useRef, useState } from "react";

import type { Bench, NewReading, StringBench } from "../../api/client";
import { newId } from "../../api/client";
import type { Look, Settled } from "../../sound/socket";
import { useListening } from "../../sound/useListening";
import { EAR_SIDES } from "./Pads";
import { isSpeaking } from "../../sound/speech";
import { useTone } from "../../sound/useTone";

type SoundSource = "microphone" | "simulated";

/** So long what a microphone heard of a string holds against what is said of it. */
const HEARD_LATELY_MS = 3000;

interface HandsFreeDoes {
  keepReading: (reading: NewReading) => Promise<unknown>;
}

export type Tone = ReturnType<typeof useHandsFree>["panel"]["tone"];

/** Listening at the bench with both hands on the instrument: settled readings are kept, the result of moves is heard. `along`: an
 * ear says what is heard, and is only followed. */
export function useHandsFree(
  bench: Bench | undefined,
  string: StringBench | null,
  source: SoundSource,
  along: boolean,
  does: HandsFreeDoes,
) {
  const [held, setHeld] = useState(false);
  const [asked, setAsked] = useState<Settled | null>(null);
  const tone = useTone();
  const [octaves, setOctaves] = useState(0);

  const beside = tone.sounding === null ? null : { string: tone.sounding.string, octaves: tone.sounding.octaves_up ?? 0 };
  const isLeftOut = held || along;

  const keep = async (settled: Settled, sure: boolean) => {
    const { hz, string: name, spread_cents } = settled.reading;
    if (hz == null || name == null || bench === undefined) return;
    setAsked(null);
    await does.keepReading({
      id: newId(),
      string: name,
      heard: { hz },
      spread_cents: spread_cents ?? null,
      source,
      sure_of_string: sure,
      hands_free: true,
    });
  };
  const onSettled = (settled: Settled) => {
    if (isLeftOut || isSpeaking()) return;
    if (settled.ask === null) void keep(settled, false).catch(() => undefined);
    else setAsked(settled);
  };
  const listening = useListening("string", bench?.instrument.kind, bench?.tuning, onSettled, beside);
  const { look, listenAnew } = listening;
  const on = listening.state.status === "listening";
  useEffect(() => {
    // What was left out was heard all the same, and may have been far louder than the strings.
    if (isLeftOut) return listenAnew;
  }, [isLeftOut, listenAnew]);
  const soundAgain = useEffectEvent(() => {
    if (tone.sounding !== null) void tone.sound({ ...tone.sounding, followed: on });
  });
  useEffect(() => {
    soundAgain(); // a tone that is followed leaves room for the string
  }, [on]);
  const followed = useFollowedEar(along && on ? look : null);
  const confirm = () => {
    if (asked === null) return;
    if (asked.ask === "softer") listenAnew();
    void keep(asked, asked.ask !== "softer").catch(() => undefined);
  };
  const takeNow = () => {
    if (look?.hears === "steady" && look.hz != null && look.string != null) {
      void does.keepReading({ id: newId(), string: look.string, heard: { hz: look.hz }, source }).catch(() => undefined);
    } else confirm();
  };

  const of = {
    instrument: bench?.instrument.kind ?? "violin",
    string: string?.name ?? "A",
    a4: bench?.tuning.a4 ?? 440,
    fifth_cents: bench?.tuning.fifth_cents ?? 700,
  };
  const sound = (octavesUp: number) => void tone.sound({ ...of, octaves_up: octavesUp, followed: on });
  const hold = () => {
    setHeld((before) => !before);
  };
  return {
    on: on && !along,
    /** What moves the figures while a hand turns: the instrument's own strings. */
    live: held || along || look?.is_softer === true ? null : look,
    /** What an ear said of the string that is on. */
    earSaid: followed.said,
    takeNow,
    hold,
    listenTo: listening.listenTo,
    stop: listening.stop,
    panel: {
      state: listening.state,
      look,
      held,
      asked,
      kind: of.instrument,
      fifthsAt: bench === undefined ? null : `/fifths/${bench.instrument.id}`,
      tone: {
        sounding: tone.sounding?.string ?? null,
        string: of.string,
        wav: `/api/tone.wav?${new URLSearchParams(Object.entries(of).map(([key, value]) => [key, String(value)])).toString()}`,
        /** Sounds it in that octave, or stops. */
        onSound: (octavesUp: number) => {
          if (tone.sounding === null) sound(octavesUp);
          else tone.stop();
        },
        octaves,
        onOctave: () => {
          const next = octaves === 0 ? 1 : 0;
          setOctaves(next);
          if (tone.sounding !== null) sound(next);
        },
        /** The tone of the string that is on, where another's sounds still. */
        onFollow: () => {
          if (tone.sounding !== null && tone.sounding.string !== of.string) sound(octaves);
        },
      },
      /** What to say of an ear that the microphone follows: stop, or that the two differ. */
      alongside: look?.ear?.stop ?? followed.differs,
      onStart: () => void listening.start(),
      onStop: listening.stop,
      onHold: hold,
      onConfirm: confirm,
      onDismiss: () => {
        setAsked(null);
      },
    },
  };
}

/** What a microphone that follows an ear heard last of each string, and whether what was said since differs from it. */
function useFollowedEar(look: Look | null) {
  const last = useRef<{ look: Look; at: number } | null>(null);
  const [differs, setDiffers] = useState<string | null>(null);
  useEffect(() => {
    if (look?.hears === "steady" && look.ear != null) last.current = { look, at: performance.now() };
  }, [look]);
  const said = (string: string, typed: string) => {
    const heard = last.current;
    const lately = heard !== null && heard.look.string === string && performance.now() - heard.at < HEARD_LATELY_MS;
    const ear = lately ? heard.look.ear : null;
    setDiffers(ear == null || ear.may_say.some((each) => each === EAR_SIDES[typed]) ? null : ear.differs);
  };
  return { differs, said };
}
