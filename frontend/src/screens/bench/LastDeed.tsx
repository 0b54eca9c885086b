import { Undo2 } from "lucide-react";

import { Button } from "../../parts/Button";
import type { Deed } from "./useBenchEntries";

interface LastDeedProps {
  /** What would be taken back now; null: nothing. */
  last: Deed | null;
  /** What was taken back a moment ago. */
  takenBack: Deed | null;
  onUndo: () => void;
  onBringBack: (deed: Deed) => void;
}

/** The one place that answers what was entered: what is kept, and the way back. Ctrl Z takes back what stands here. */
export function LastDeed({ last, takenBack, onUndo, onBringBack }: LastDeedProps) {
  const shown = takenBack ?? last;
  return (
    <div className="flex min-h-11 items-center gap-x-2">
      <p role="status" className="min-w-0 truncate">
        {shown !== null && (
          <>
            <span className="text-pencil">{takenBack !== null ? "Taken back:" : shown.waits ? "On its way:" : "Kept:"}</span>{" "}
            <b>{shown.said}</b>
          </>
        )}
      </p>
      {takenBack !== null && !takenBack.waits && (
        <Button
          look="quiet"
          className="shrink-0"
          onClick={() => {
            onBringBack(takenBack);
          }}
        >
          Bring back
        </Button>
      )}
      {last !== null && (
        <Button
          look="quiet"
          className="shrink-0"
          aria-label={`Undo: ${last.said}`}
          title={`Take back: ${last.said}`}
          onClick={onUndo}
        >
          <Undo2 size={18} aria-hidden /> Undo
        </Button>
      )}
    </div>
  );
}
