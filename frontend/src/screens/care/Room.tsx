import { useState } from "react";

import type { Air, CareBook } from "../../api/care";
import { useAddAir, useStrikeAir } from "../../api/care";
import { AirChart } from "../../parts/AirChart";
import { Button } from "../../parts/Button";
import { FIELD } from "../../parts/field";
import { ago } from "../../parts/figures";
import { Trouble } from "../../parts/Trouble";

interface RoomProps {
  air: Air[];
  comfortable: CareBook["comfortable"];
  now: number;
}

/** The room's air: the newest measurement, and a new one. */
export function Room({ air, comfortable, now }: RoomProps) {
  const add = useAddAir();
  const strike = useStrikeAir();
  const [humidity, setHumidity] = useState("");
  const [celsius, setCelsius] = useState("");
  const newest = air.at(-1);
  const points = air.flatMap((each) => (each.humidity === null ? [] : [{ at: Date.parse(each.at), humidity: each.humidity }]));
  return (
    <section aria-label="The room">
      <h2 className="text-2xl font-bold">The room</h2>
      {newest === undefined ? (
        <p>Not measured yet. Humidity tells which pegs will slip or stick.</p>
      ) : (
        <p className="text-lg">
          {newest.humidity !== null && <b>{newest.humidity.toFixed(0)} %</b>}{" "}
          {newest.celsius !== null && <b>{newest.celsius.toFixed(0)} °C</b>}{" "}
          <span className="text-pencil">{ago(newest.at, now)}</span>
          {newest.said !== null && <span className="block">{newest.said}</span>}
        </p>
      )}
      {points.length > 1 && <AirChart points={points} comfortable={comfortable} />}
      <form
        className="mt-2 flex flex-wrap items-end gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          add.mutate(
            { humidity: numberOf(humidity), celsius: numberOf(celsius) },
            {
              onSuccess: () => {
                setHumidity("");
                setCelsius("");
              },
            },
          );
        }}
      >
        <Figure label="Humidity, %" value={humidity} onSet={setHumidity} />
        <Figure label="Degrees, °C" value={celsius} onSet={setCelsius} />
        <Button type="submit" disabled={add.isPending || humidity + celsius === ""}>
          Enter
        </Button>
        {newest !== undefined && newest.source === "typed" && (
          <Button
            look="quiet"
            onClick={() => {
              strike.mutate(newest.id);
            }}
          >
            Strike out the last
          </Button>
        )}
      </form>
      <Trouble error={add.error ?? strike.error} />
    </section>
  );
}

function Figure({ label, value, onSet }: { label: string; value: string; onSet: (text: string) => void }) {
  return (
    <label className="flex flex-col text-sm font-bold text-pencil">
      {label}
      <input
        inputMode="decimal"
        className={`${FIELD} w-28 font-normal text-ink`}
        value={value}
        onChange={(event) => {
          onSet(event.target.value);
        }}
      />
    </label>
  );
}

function numberOf(text: string): number | null {
  return text.trim() === "" ? null : Number(text.replace(",", "."));
}
