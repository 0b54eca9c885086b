import { setClockNote, useClockNote } from "../api/clockNote";
import { useAway } from "../api/connection";
import { useOutbox } from "../api/outbox/benchOutbox";
import { useOtherStudio } from "../api/studio";
import { Button } from "./Button";
import { ElsewhereNote, OtherStudioNote } from "./OtherStudio";
import { useLasting } from "./useLasting";

const SOON_MS = 1000;

/** On every page: that the server doesn't answer, or another studio's does, and how much waits for it. */
export function AwayNote() {
  const other = useOtherStudio();
  return (
    <>
      {other === null ? <Away /> : <OtherStudioNote studio={other} />}
      <ElsewhereNote />
      <ClockNote />
    </>
  );
}

function ClockNote() {
  const note = useClockNote();
  if (note === null) return null;
  return (
    <div
      role="alert"
      className="mt-2 flex flex-wrap items-center gap-3 rounded-md border-2 border-ink bg-lit px-3 py-2 print:hidden"
    >
      <p className="min-w-56 flex-1">{note}</p>
      <Button
        onClick={() => {
          setClockNote(null);
        }}
      >
        It is right
      </Button>
    </div>
  );
}

function Away() {
  const away = useLasting(useAway(), SOON_MS);
  const waiting = useOutbox().filter((entry) => entry.refused === null).length;
  if (!away) return null;
  return (
    <p role="status" className="mt-2 rounded-md border-2 border-ink bg-lit px-3 py-2 print:hidden">
      <b>Pondus doesn’t answer just now; it keeps trying.</b>{" "}
      {waiting > 0
        ? waiting === 1
          ? "1 entry waits here and will be sent by itself."
          : `${String(waiting)} entries wait here and will be sent by themselves.`
        : "What you enter is kept here until it does."}
    </p>
  );
}
