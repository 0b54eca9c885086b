import type { Bench } from "../../api/client";
import { Button } from "../../parts/Button";

/** A new tuning was begun and nothing is in it yet: the way back to the one before. */
export function NewTuning({ bench, onBack }: { bench: Bench; onBack: () => void }) {
  if (!bench.can_go_back) return null;
  return (
    <p role="status" className="flex flex-wrap items-center gap-3 rounded-md border border-ink bg-lit px-3 py-2">
      <span className="min-w-40 flex-1">A new tuning is begun. The one before is kept in the ledger.</span>
      <Button onClick={onBack}>Back to the one before</Button>
    </p>
  );
}
