import { FileAudio } from "lucide-react";
import { useRef } from "react";

import { Button } from "../../parts/Button";
import type { RecordingLine } from "./useRecordings";

interface RecordingsProps {
  lines: RecordingLine[];
  left: number;
  onFiles: (files: File[]) => void;
}

/** Recordings of single strings: choose them here, or drop them anywhere on the page. */
export function Recordings({ lines, left, onFiles }: RecordingsProps) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <div className="flex flex-col gap-1">
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1">
        <Button onClick={() => input.current?.click()}>
          <FileAudio size={20} aria-hidden /> Hear a recording
        </Button>
        <span className="text-pencil">or drop WAV, FLAC, OGG files anywhere here</span>
        <input
          ref={input}
          type="file"
          multiple
          accept=".wav,.flac,.ogg,audio/*"
          className="hidden"
          aria-label="Recordings"
          onChange={(event) => {
            onFiles([...(event.target.files ?? [])]);
            event.target.value = "";
          }}
        />
      </div>
      {left > 0 && <p role="status">Hearing recordings: {left} to go.</p>}
      <ul aria-label="Recordings heard">
        {lines.map((line, place) => (
          <li key={`${String(place)} ${line.name}`} className={line.good ? "" : "text-above"}>
            {line.name}: {line.text}
          </li>
        ))}
      </ul>
    </div>
  );
}
