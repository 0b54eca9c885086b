import { X } from "lucide-react";

import type { StationAsked } from "../../api/morning";
import { Button } from "../../parts/Button";
import type { useStations } from "./useStations";

const FIELD = "min-h-11 rounded-md border border-ink/60 bg-paper px-2";
const MAY: [StationAsked["may"], string][] = [
  ["teacher", "everything"],
  ["pegs", "pegs too"],
  ["fine-tuners", "fine tuners only"],
];

/** Who is there, what they may turn, and when they come. */
export function Stations({ stations, change, add, remove }: ReturnType<typeof useStations>) {
  return (
    <section
      aria-label="Who is there"
      className="flex flex-col gap-2 rounded-lg border border-rule bg-sheet p-4"
    >
      <h2 className="text-lg font-bold">Who is there</h2>
      {stations.map((each, place) => (
        <div key={String(place)} className="flex flex-wrap items-center gap-2">
          <input
            aria-label={`Name of person ${String(place + 1)}`}
            className={`${FIELD} w-36`}
            value={each.name}
            onChange={(event) => {
              change(place, { name: event.target.value });
            }}
          />
          <select
            aria-label={`${each.name} may turn`}
            className={FIELD}
            value={each.may}
            onChange={(event) => {
              change(place, { may: event.target.value as StationAsked["may"] });
            }}
          >
            {MAY.map(([value, said]) => (
              <option key={value} value={value}>
                {said}
              </option>
            ))}
          </select>
          <label className="flex items-center gap-1">
            comes in
            <input
              type="number"
              min={0}
              max={120}
              className={`${FIELD} w-16`}
              value={each.from_minutes}
              onChange={(event) => {
                change(place, { from_minutes: Math.max(0, Number(event.target.value)) });
              }}
            />
            min
          </label>
          {stations.length > 1 && (
            <Button
              look="quiet"
              aria-label={`${each.name} is not there`}
              onClick={() => {
                remove(place);
              }}
            >
              <X size={20} aria-hidden />
            </Button>
          )}
        </div>
      ))}
      <div className="flex flex-wrap gap-2">
        <Button
          onClick={() => {
            add("pegs");
          }}
        >
          Add a helper
        </Button>
        <Button
          onClick={() => {
            add("fine-tuners");
          }}
        >
          Add a student
        </Button>
      </div>
    </section>
  );
}
