import { Volume2 } from "lucide-react";
import { useEffect, useEffectEvent } from "react";

import { Button } from "../../parts/Button";
import type { Tone } from "./useHandsFree";

interface ToneButtonProps {
  tone: Pick<Tone, "string" | "sounding" | "onFollow"> & { onSound: (octaves: number) => void };
  octaves: number;
  /** Where another string comes while it sounds, it sounds that one's. */
  follows?: boolean;
  look?: "main" | "plain";
  className?: string;
}

/** Sounds the string's tone in that octave, or stops it. */
export function ToneButton({ tone, octaves, follows = false, look = "plain", className = "" }: ToneButtonProps) {
  const follow = useEffectEvent(tone.onFollow);
  useEffect(() => {
    if (follows) follow();
  }, [follows, tone.string]);
  return (
    <Button
      look={look}
      className={className}
      aria-pressed={tone.sounding !== null}
      onClick={() => {
        tone.onSound(octaves);
      }}
    >
      <Volume2 size={20} aria-hidden />
      {tone.sounding === null
        ? `Sound the ${tone.string}${octaves < 0 ? " an octave lower" : ""}`
        : `Stop the ${tone.sounding}`}
    </Button>
  );
}
