import { useMay, useMe } from "../../api/device";
import type { Planned, StationPlanned } from "../../api/morning";
import { Button } from "../../parts/Button";
import { clockTime } from "../../parts/figures";
import { Trouble } from "../../parts/Trouble";
import { useGoTo } from "../../parts/useGoTo";

interface TimelineProps {
  planned: Planned;
  now: number;
}

/** Who does what, each person a row, time running to the right; the finish stands in words above. */
export function Timeline({ planned, now }: TimelineProps) {
  const { goTo, error } = useGoTo();
  const me = useMe().data;
  const keeps = useMay("keep-morning");
  const whole = Math.max(planned.ends, 0.1);
  return (
    <section aria-label="Who does what" className="flex flex-col gap-2">
      <p className="text-3xl font-bold" aria-live="polite">
        {headline(planned, now)}
      </p>
      {planned.to_hear > 0 && planned.ends > 0 && (
        <p className="text-pencil">
          Planned from what is heard so far; {planned.to_hear} {planned.to_hear === 1 ? "is" : "are"} still to hear.
        </p>
      )}
      {planned.nobody.length > 0 && planned.stations.length > 0 && (
        <p role="alert" className="rounded-md border-2 border-above bg-sheet px-3 py-2">
          Nobody here may do {planned.nobody.join(", ")}: add someone who may turn pegs.
        </p>
      )}
      {planned.stations.map((station) => (
        <Row
          key={station.id}
          station={station}
          whole={whole}
          takes={keeps || station.id === me?.station_id}
          onGo={(id, takes) => void goTo(id, takes ? station.id : null)}
        />
      ))}
      <Trouble error={error} />
      {planned.ends > 0 && <Clock now={now} whole={whole} />}
    </section>
  );
}

function headline(planned: Planned, now: number): string {
  if (planned.stations.length === 0) return "Who tunes this morning?";
  if (planned.ends > 0) {
    const at = clock(now, planned.ends);
    const minutes = Math.ceil(planned.ends);
    return `All done by ${at}, in ${String(minutes)} ${minutes === 1 ? "minute" : "minutes"}.`;
  }
  if (planned.nobody.length > 0) return "Nobody here may do what is left.";
  return planned.to_hear > 0 ? "Hear the instruments first." : "All done: nothing is left to tune.";
}

function clock(now: number, minutes: number): string {
  return clockTime(now + minutes * 60_000);
}

/** The time below the rows: now, half way, the end. */
function Clock({ now, whole }: { now: number; whole: number }) {
  return (
    <div className="grid text-sm text-pencil sm:grid-cols-[5rem_minmax(0,1fr)_12rem] sm:gap-x-2">
      <span className="hidden sm:block" />
      <span className="flex justify-between">
        <span>now</span>
        <span>{clock(now, whole / 2)}</span>
        <span>{clock(now, whole)}</span>
      </span>
    </div>
  );
}

/** A slot of a smaller share may cut its name; then the names stand below. */
const NARROW = 0.2;

interface RowProps {
  station: StationPlanned;
  whole: number;
  /** Whoever looks may take an instrument in hand for this person. */
  takes: boolean;
  onGo: (instrument: string, takes: boolean) => void;
}

function Row({ station, whole, takes, onGo }: RowProps) {
  const next = station.slots[0];
  return (
    <div className="grid grid-cols-[minmax(0,1fr)_auto] items-center gap-x-2 sm:grid-cols-[5rem_minmax(0,1fr)_12rem]">
      <b className="truncate sm:text-right">{station.name}</b>
      <div className="relative order-3 col-span-2 h-14 rounded-md border border-rule bg-sheet sm:order-none sm:col-span-1">
        {station.slots.map((slot) => (
          <button
            key={slot.id}
            type="button"
            title={`${slot.label}: ${slot.said}, minute ${slot.starts.toFixed(1)} to ${slot.ends.toFixed(1)}`}
            className={`on-paper absolute inset-y-1 overflow-hidden rounded-sm border px-1 text-left text-sm leading-tight hover:bg-paper ${slot.in_hand ? "border-2 border-ink bg-paper" : "border-ink/60 bg-lit"}`}
            style={{
              left: `${String((slot.starts / whole) * 100)}%`,
              width: `${String(((slot.ends - slot.starts) / whole) * 100)}%`,
            }}
            onClick={() => {
              onGo(slot.id, takes);
            }}
          >
            <b className="block truncate">{slot.label}</b>
            <span className="hidden truncate text-pencil sm:block">{slot.said}</span>
          </button>
        ))}
      </div>
      {station.slots.some((slot) => (slot.ends - slot.starts) / whole < NARROW) && (
        <span className="order-4 col-span-full text-sm sm:order-last sm:col-start-2">
          {station.slots.map((slot) => slot.label).join(", ")}
        </span>
      )}
      {station.recalled_said !== "" && (
        <span className="order-5 col-span-full text-sm font-bold sm:order-last sm:col-start-2">{station.recalled_said}</span>
      )}
      {next === undefined ? (
        <span className="px-3.5 text-pencil">free</span>
      ) : !takes ? (
        <span className="truncate px-3.5 text-pencil">
          {next.in_hand ? "has" : "next"} {next.label}
        </span>
      ) : (
        <Button
          look={next.in_hand ? "main" : "plain"}
          className="min-w-0 justify-start"
          onClick={() => {
            onGo(next.id, takes);
          }}
        >
          <span className="truncate">
            {next.in_hand ? "On with" : "Begin"} {next.label}
          </span>
        </Button>
      )}
    </div>
  );
}
