import { Volume2 } from "lucide-react";

import { Button } from "../../parts/Button";

interface ReferenceToneProps {
  tone: { sounding: string | null; string: string; onToggle: () => void; wav: string };
}

/** The reference tone of the string, to hear or to keep. */
export function ReferenceTone({ tone }: ReferenceToneProps) {
  return (
    <div className="flex flex-wrap items-center gap-2">
      <Button onClick={tone.onToggle} aria-pressed={tone.sounding !== null}>
        <Volume2 size={20} aria-hidden />
        {tone.sounding === null ? `Sound the ${tone.string}` : `Stop the ${tone.sounding}`}
      </Button>
      <a
        className="flex min-h-11 items-center px-2 text-pencil underline underline-offset-4"
        href={tone.wav}
        download
      >
        as WAV
      </a>
    </div>
  );
}
