import { useCallback, useState } from "react";

import { hearRecording } from "../../api/bench";
import type { Bench, NewReading } from "../../api/client";
import { newId } from "../../api/client";

export interface RecordingLine {
  name: string;
  text: string;
  good: boolean;
}

/** Hear dropped recordings one after the other and keep what can be trusted; a line for each says how it went. */
export function useRecordings(bench: Bench | undefined, keep: (reading: NewReading) => Promise<unknown>) {
  const [lines, setLines] = useState<RecordingLine[]>([]);
  const [left, setLeft] = useState(0);
  const hearAll = useCallback(
    async (files: File[]) => {
      if (bench === undefined) return;
      setLines([]);
      for (const [place, file] of files.entries()) {
        setLeft(files.length - place);
        const line = await hearOne(file, bench, keep);
        setLines((before) => [...before, line]);
      }
      setLeft(0);
    },
    [bench, keep],
  );
  return { lines, left, hearAll };
}

async function hearOne(file: File, bench: Bench, keep: (reading: NewReading) => Promise<unknown>): Promise<RecordingLine> {
  try {
    const heard = await hearRecording(file, bench, null);
    if (!heard.keep || heard.hz == null || heard.string == null) {
      return { name: file.name, text: heard.said ?? "No steady pitch.", good: false };
    }
    await keep({
      id: newId(),
      string: heard.string,
      heard: { hz: heard.hz },
      spread_cents: heard.spread_cents ?? null,
      source: "recording",
    });
    return { name: file.name, text: `${heard.string} string, ${heard.hz.toFixed(2)} Hz`, good: true };
  } catch (error) {
    return { name: file.name, text: error instanceof Error ? error.message : "could not be heard", good: false };
  }
}
