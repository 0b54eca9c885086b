import { Link } from "react-router";

interface InstrumentTitleProps {
  instrument: { id: string; label: string; kind: string; size: string };
  at: "bench" | "fifths";
}

/** Which instrument, and the way between its screens. */
export function InstrumentTitle({ instrument, at }: InstrumentTitleProps) {
  return (
    <>
      <h1 className="flex max-w-full min-w-0 items-baseline gap-2 text-xl">
        <b className="truncate">{instrument.label}</b>
        <span className="whitespace-nowrap text-pencil">
          {instrument.kind} {instrument.size}
        </span>
      </h1>
      <nav aria-label="This instrument" className="flex flex-wrap gap-1">
        {(["bench", "fifths"] as const).map((each) => (
          <Link
            key={each}
            to={`/${each}/${instrument.id}`}
            aria-current={at === each ? "page" : undefined}
            className="flex min-h-11 items-center rounded-md px-3 hover:bg-lit aria-[current=page]:font-bold aria-[current=page]:underline aria-[current=page]:decoration-2 aria-[current=page]:underline-offset-8"
          >
            {each === "bench" ? "Strings" : "Fifths"}
          </Link>
        ))}
        <Link to="/morning" className="flex min-h-11 items-center rounded-md px-3 hover:bg-lit">
          Morning
        </Link>
        <a
          href={`/api/instruments/${instrument.id}/card.pdf`}
          target="_blank"
          rel="noreferrer"
          title="One printable page: notes, what the tuner means, which way to turn"
          className="flex min-h-11 items-center rounded-md px-3 hover:bg-lit"
        >
          Card
        </a>
      </nav>
      <span className="ml-auto" />
    </>
  );
}
