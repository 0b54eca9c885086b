import { useAway } from "../api/connection";
import { useOutbox } from "../api/outbox/benchOutbox";
import { useLasting } from "./useLasting";

const SOON_MS = 1000;

/** On every page: that the server doesn't answer, and how much waits for it. */
export function AwayNote() {
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
