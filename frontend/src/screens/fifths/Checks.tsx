import type { FifthCheck } from "../../api/fifths";
import { Button } from "../../parts/Button";

interface ChecksProps {
  checks: FifthCheck[];
  onStrike: (check: { id: string; back: boolean }) => void;
}

/** The checks of this tuning, newest first; each can be struck out and brought back. */
export function Checks({ checks, onStrike }: ChecksProps) {
  if (checks.length === 0) return null;
  return (
    <section aria-label="Checks made" className="rounded-lg border border-rule bg-sheet p-4">
      <h2 className="text-lg font-bold">Checks made</h2>
      <ul>
        {checks.map((each) => (
          <li key={each.id} className="flex flex-wrap items-center justify-between gap-x-3">
            <span className={each.struck ? "text-pencil line-through" : ""}>
              <b>
                {each.lower}–{each.upper}
              </b>{" "}
              {each.text}
            </span>
            <Button
              look="quiet"
              onClick={() => {
                onStrike({ id: each.id, back: each.struck });
              }}
            >
              {each.struck ? "Bring back" : "Strike out"}
            </Button>
          </li>
        ))}
      </ul>
    </section>
  );
}
