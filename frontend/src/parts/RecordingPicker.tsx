import { FileAudio } from "lucide-react";
import { useRef } from "react";

import { Button } from "./Button";

interface RecordingPickerProps {
  hint: string;
  onFiles: (files: File[]) => void;
}

/** Choose recordings from disk. */
export function RecordingPicker({ hint, onFiles }: RecordingPickerProps) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <Button onClick={() => input.current?.click()}>
        <FileAudio size={20} aria-hidden /> Hear a recording
      </Button>
      <span className="text-pencil">{hint}</span>
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
    </>
  );
}
