import { Link } from "react-router";

import type { Planned } from "../../api/morning";

interface TimelineProps {
  planned: Planned;
  now: number;
}

/** Who does what, each station a row, time running to the right; the finish stands in words above. */
export function Timeline({ planned, now }: TimelineProps) {
  const whole = Math.max(planned.ends, 0.1);
  const at = new Date(now + planned.ends * 60_000).toLocaleTimeString([], {
    hour: "2-digit",
    minute: "2-digit",
    hourCycle: "h23",
  });
  return (
    <section aria-label="Who does what" className="flex flex-col gap-2">
      <p className="text-2xl font-bold" aria-live="polite">
        {planned.ends === 0
          ? "Nothing to turn."
          : `All done by ${at}, in ${Math.ceil(planned.ends).toString()} minutes.`}
      </p>
      {planned.nobody.length > 0 && (
        <p role="alert" className="rounded-md border-2 border-above bg-sheet px-3 py-2">
          Nobody here may do {planned.nobody.join(", ")}: add someone who may turn pegs.
        </p>
      )}
      {planned.stations.map((station) => (
        <div
          key={station.name}
          className="grid grid-cols-[5rem_1fr] sm:grid-cols-[7rem_1fr] items-center gap-2"
        >
          <span className="truncate text-right">{station.name}</span>
          <div className="relative h-14 rounded-md border border-rule bg-sheet">
            {station.turns.map((turn) => (
              <Link
                key={turn.id}
                to={`/bench/${turn.id}`}
                title={`${turn.label}: ${turn.said}, minute ${turn.starts.toFixed(1)} to ${turn.ends.toFixed(1)}`}
                className="absolute inset-y-1 overflow-hidden rounded-sm border border-ink bg-lit px-1 text-sm leading-tight hover:bg-paper"
                style={{
                  left: `${String((turn.starts / whole) * 100)}%`,
                  width: `${String(((turn.ends - turn.starts) / whole) * 100)}%`,
                }}
              >
                <b className="block truncate">{turn.label}</b>
                <span className="hidden truncate text-pencil sm:block">{turn.said}</span>
              </Link>
            ))}
          </div>
        </div>
      ))}
    </section>
  );
}
