import { outbox, useEntriesElsewhere, useOutbox } from "../api/outbox/benchOutbox";
import { moveTo } from "../api/studio";
import { Button } from "./Button";
import { inWords } from "./entryInWords";
import { Folded } from "./Folded";

const NOTE = "mt-2 flex flex-wrap items-center gap-x-3 gap-y-2 rounded-md border-2 border-ink bg-lit px-3 py-2 print:hidden";

/** Another studio than this page's answers at this address. */
export function OtherStudioNote({ studio }: { studio: string }) {
  const waiting = useOutbox().filter((entry) => entry.refused === null).length;
  return (
    <div role="alert" className={NOTE}>
      <p className="min-w-56 flex-1">
        <b>Another studio answers at this address now.</b> What you see here is of the one before.{" "}
        {waiting > 0 && `${entries(waiting)} here until that one is back.`}
      </p>
      <Button
        onClick={() => {
          moveTo(studio);
        }}
      >
        Open the other studio
      </Button>
    </div>
  );
}

/** What was entered for another studio, and isn't sent to this one. */
export function ElsewhereNote() {
  const elsewhere = useEntriesElsewhere();
  if (elsewhere.length === 0) return null;
  return (
    <Folded
      title={`${entries(elsewhere.length)} for another studio`}
      className="mt-2 rounded-md border border-dashed border-ink px-3 print:hidden"
    >
      <p className="pb-2">It stood at this address. What was entered is kept, and sent once it answers here again.</p>
      <ul className="pb-2">
        {elsewhere.map((entry) => (
          <li key={entry.id} className="flex items-center gap-3 border-t border-rule py-1">
            <span className="flex-1">{inWords(entry.shown)}</span>
            <Button
              aria-label={`Leave out ${inWords(entry.shown)}`}
              onClick={() => {
                outbox.dropElsewhere(entry.id);
              }}
            >
              Leave it out
            </Button>
          </li>
        ))}
      </ul>
    </Folded>
  );
}

function entries(count: number): string {
  return count === 1 ? "1 entry waits" : `${String(count)} entries wait`;
}
