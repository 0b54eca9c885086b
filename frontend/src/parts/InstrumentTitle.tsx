import { NavLink, useSearchParams } from "react-router";

import { NAV_LINK } from "./navLink";
import { NextInstrument } from "./NextInstrument";

interface InstrumentTitleProps {
  instrument: { id: string; label: string; kind: string; size: string };
}

const PAGES = [
  ["bench", "Strings"],
  ["fifths", "Fifths"],
  ["ledger", "Ledger"],
] as const;

/** Which instrument, the way between its screens, and the instrument after it. */
export function InstrumentTitle({ instrument }: InstrumentTitleProps) {
  const [asked] = useSearchParams();
  const at = asked.get("at");
  return (
    <>
      <h1 className="flex max-w-full min-w-0 items-baseline gap-2 border-rule pl-1 text-xl sm:border-l-2 sm:pl-3">
        <b className="truncate">{instrument.label}</b>
        <span className="whitespace-nowrap text-pencil">
          {instrument.kind} {instrument.size}
        </span>
      </h1>
      <nav aria-label="This instrument" className="flex flex-wrap">
        {PAGES.map(([page, said]) => (
          <NavLink
            key={page}
            to={{ pathname: `/${page}/${instrument.id}`, search: at === null ? "" : `?at=${at}` }}
            className={NAV_LINK}
          >
            {said}
          </NavLink>
        ))}
        <a
          href={`/api/instruments/${instrument.id}/card.pdf`}
          target="_blank"
          rel="noreferrer"
          title="One printable page: notes, what the tuner means, which way to turn"
          className={NAV_LINK}
        >
          Card
        </a>
      </nav>
      <span className="ml-auto" />
      <NextInstrument current={instrument.id} station={at} />
    </>
  );
}
