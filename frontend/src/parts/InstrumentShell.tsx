import type { ReactNode } from "react";
import { useSearchParams } from "react-router";

import { useMe } from "../api/device";
import { useMorning } from "../api/morning";
import { MORE_ENTRY } from "./More";
import { NextInstrument } from "./NextInstrument";
import { Shell } from "./Shell";

interface InstrumentShellProps {
  instrument: { id: string; label: string; kind: string; size: string };
  /** Which of its pages this is. */
  page: "Strings" | "Fifths" | "Ledger";
  tools?: ReactNode;
  more?: ReactNode;
  keepsFocus?: boolean;
  children: ReactNode;
}

const PAGES = [
  ["bench", "Strings", "tune"],
  ["fifths", "Fifths", "tune"],
  ["ledger", "Ledger", "see-ledger"],
] as const;

/** The frame of an instrument's pages: which one, the way between its pages, and the instrument after it. */
export function InstrumentShell({ instrument, page, tools, more, keepsFocus, children }: InstrumentShellProps) {
  const [asked] = useSearchParams();
  const at = asked.get("at");
  const can = useMe().data?.can ?? [];
  const player = usePlayer(instrument.id, can.includes("see-morning"));
  const search = at === null ? "" : `?at=${at}`;
  return (
    <Shell
      title={`${instrument.label}: ${page.toLowerCase()}`}
      heading={
        <>
          <b className="block leading-tight wrap-anywhere">{instrument.label}</b>{" "}
          <span className="block text-sm leading-tight text-pencil">
            {instrument.kind} {instrument.size}
            {player !== null && ` · ${player}`}
          </span>
        </>
      }
      pages={PAGES.filter(([, , act]) => can.includes(act)).map(([path, said]) => ({
        to: { pathname: `/${path}/${instrument.id}`, search },
        said,
      }))}
      tools={
        <>
          {tools}
          <NextInstrument current={instrument.id} />
        </>
      }
      more={
        <>
          <a
            href={`/api/instruments/${instrument.id}/card.pdf`}
            target="_blank"
            rel="noreferrer"
            title="One printable page: notes, what the tuner means, which way to turn"
            className={MORE_ENTRY}
          >
            Card for the case
          </a>
          <a
            href={`/api/instruments/${instrument.id}/home-card.pdf`}
            target="_blank"
            rel="noreferrer"
            title="For a family: by letters and lights, what is turned at home, by whom, and what waits"
            className={MORE_ENTRY}
          >
            Card for home
          </a>
          <a href={`/api/instruments/${instrument.id}/case-list.pdf`} target="_blank" rel="noreferrer" className={MORE_ENTRY}>
            What belongs in the case
          </a>
          <a href={`/api/instruments/${instrument.id}/told.pdf`} target="_blank" rel="noreferrer" className={MORE_ENTRY}>
            For a parent or luthier
          </a>
          {can.includes("see-ledger") && (
            <a
              href={`/api/instruments/${instrument.id}/ledger-page.pdf`}
              target="_blank"
              rel="noreferrer"
              className={MORE_ENTRY}
            >
              Print its ledger
            </a>
          )}
          {more}
        </>
      }
      {...(keepsFocus === undefined ? {} : { keepsFocus })}
    >
      {children}
    </Shell>
  );
}

/** Who plays it, where the studio's list is at hand. */
function usePlayer(instrument: string, seen: boolean): string | null {
  const morning = useMorning(seen);
  return morning.data?.instruments.find(({ id }) => id === instrument)?.player ?? null;
}
