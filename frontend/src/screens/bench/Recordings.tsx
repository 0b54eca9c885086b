import { RecordingPicker } from "../../parts/RecordingPicker";
import type { RecordingLine } from "./useRecordings";

interface RecordingsProps {
  lines: RecordingLine[];
  left: number;
  onFiles: (files: File[]) => void;
}

/** Recordings of single strings: choose them here, or drop them anywhere on the page. */
export function Recordings({ lines, left, onFiles }: RecordingsProps) {
  return (
    <div className="flex flex-col gap-1">
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1">
        <RecordingPicker hint="or drop WAV, FLAC, OGG files anywhere here" onFiles={onFiles} />
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
