import { useEffect, useState } from "react";

import type { Bench, NewReading, StringBench } from "../../api/client";
import { newId } from "../../api/client";
import type { Settled } from "../../sound/socket";
import { useListening } from "../../sound/useListening";
import { isSpeaking } from "../../sound/speech";
import { useTone } from "../../sound/useTone";

type SoundSource = "microphone" | "simulated";

interface HandsFreeDoes {
  keepReading: (reading: NewReading) => Promise<unknown>;
}

export type Tone = ReturnType<typeof useHandsFree>["panel"]["tone"];

/** Listening at the bench with both hands on the instrument: settled readings are kept, the result of moves is heard. */
export function useHandsFree(
  bench: Bench | undefined,
  string: StringBench | null,
  source: SoundSource,
  does: HandsFreeDoes,
) {
  const [held, setHeld] = useState(false);
  const [asked, setAsked] = useState<Settled | null>(null);
  const tone = useTone();
  const [octaves, setOctaves] = useState(0);

  const isLeftOut = held || tone.sounding !== null;

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
  const listening = useListening("string", bench?.instrument.kind, bench?.tuning, onSettled);
  const { look, listenAnew } = listening;
  useEffect(() => {
    // What was left out was heard all the same, and may have been far louder than the strings: a tone out of this device.
    if (isLeftOut) return listenAnew;
  }, [isLeftOut, listenAnew]);
  const confirm = () => {
    if (asked === null) return;
    if (asked.ask === "softer") listenAnew();
    void keep(asked, asked.ask !== "softer").catch(() => undefined);
  };
  const takeNow = () => {
    if (look?.hears === "steady" && look.hz != null && look.string != null) {
      void does
        .keepReading({ id: newId(), string: look.string, heard: { hz: look.hz }, source })
        .catch(() => undefined);
    } else confirm();
  };

  const of = {
    instrument: bench?.instrument.kind ?? "violin",
    string: string?.name ?? "A",
    a4: bench?.tuning.a4 ?? 440,
    fifth_cents: bench?.tuning.fifth_cents ?? 700,
  };
  const hold = () => {
    setHeld((before) => !before);
  };
  return {
    on: listening.state.status === "listening",
    /** What moves the figures while a hand turns: the instrument's own strings. */
    live: held || look?.is_softer === true ? null : look,
    takeNow,
    hold,
    listenTo: listening.listenTo,
    stop: listening.stop,
    panel: {
      state: listening.state,
      look,
      held,
      asked,
      tone: {
        sounding: tone.sounding,
        string: of.string,
        wav: `/api/tone.wav?${new URLSearchParams(Object.entries(of).map(([key, value]) => [key, String(value)])).toString()}`,
        /** Sounds it in that octave, or stops. */
        onSound: (octavesUp: number) => {
          if (tone.sounding === null) void tone.sound({ ...of, octaves_up: octavesUp });
          else tone.stop();
        },
        octaves,
        onOctave: () => {
          const next = octaves === 0 ? 1 : 0;
          setOctaves(next);
          if (tone.sounding !== null) void tone.sound({ ...of, octaves_up: next });
        },
        /** The tone of the string that is on, where another's sounds still. */
        onFollow: () => {
          if (tone.sounding !== null && tone.sounding !== of.string)
            void tone.sound({ ...of, octaves_up: octaves });
        },
      },
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
