import { ToneButton } from "./ToneButton";
import type { Tone } from "./useHandsFree";

interface ReferenceToneProps {
  tone: Tone;
}

/** The reference tone of the string, to hear or to keep. */
export function ReferenceTone({ tone }: ReferenceToneProps) {
  return (
    <div className="flex flex-wrap items-center gap-2">
      <ToneButton tone={tone} octaves={0} />
      <a className="flex min-h-11 items-center px-2 text-pencil underline underline-offset-4" href={tone.wav} download>
        as WAV
      </a>
    </div>
  );
}
