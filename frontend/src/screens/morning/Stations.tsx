import { useState } from "react";

import type { Planned, StationChange, StationPlanned } from "../../api/morning";
import { useAddStation, useAsLastTime, useChangeStation, useRemoveStation } from "../../api/morning";
import { useChoices } from "../../api/instruments";
import { usePeople } from "../../api/people";
import { Button } from "../../parts/Button";
import { FIELD } from "../../parts/field";
import { Trouble } from "../../parts/Trouble";
import { Unfold } from "../../parts/Unfold";

/** Who is there, what they may turn, and when they come. The same in every browser. */
export function Stations({ planned }: { planned: Planned }) {
  const add = useAddStation();
  const again = useAsLastTime();
  const change = useChangeStation();
  const remove = useRemoveStation();
  const nobody = planned.stations.length === 0;
  return (
    <section aria-label="Who is there" className="flex flex-col gap-2 self-start rounded-lg border border-rule bg-sheet p-3">
      <h2 className="text-lg font-bold">Who is there</h2>
      {nobody && <p>Nobody yet. Add yourself first; helpers and students who tune come after.</p>}
      <ul className="flex flex-col gap-1">
        {planned.stations.map((each) => (
          <Person
            key={each.id}
            station={change.isPending && change.variables.id === each.id ? shownAs(each, change.variables.change) : each}
            onChange={(changes) => {
              change.mutate({ id: each.id, change: changes });
            }}
            onRemove={() => {
              remove.mutate(each.id);
            }}
          />
        ))}
      </ul>
      <AddPeople
        planned={planned}
        onAdd={(station) => {
          add.mutate(station);
        }}
        onAgain={
          nobody
            ? () => {
                again.mutate(undefined);
              }
            : null
        }
      />
      <Trouble error={add.error ?? again.error ?? change.error ?? remove.error} />
    </section>
  );
}

/** What was just pressed shows at once; it stays only if it is kept. */
function shownAs(station: StationPlanned, change: StationChange): StationPlanned {
  return { ...station, may: change.may ?? station.may, own_only: change.own_only ?? station.own_only };
}

interface PersonProps {
  station: StationPlanned;
  onChange: (change: StationChange) => void;
  onRemove: () => void;
}

function Person({ station, onChange, onRemove }: PersonProps) {
  const [open, setOpen] = useState(false);
  const [late, setLate] = useState("");
  const choices = useChoices();
  const coming = Math.ceil(station.comes_in_minutes);
  return (
    <li className="border-t border-rule pt-1 first:border-t-0 first:pt-0">
      <div className="flex items-center gap-2">
        <span className="min-w-0 flex-1 truncate">
          <b>{station.name}</b> <span className="text-pencil">{coming > 0 && `in ${String(coming)} min`}</span>
          {station.away_minutes !== null && <span className="text-above">no sign for {station.away_minutes} min</span>}
        </span>
        <select
          aria-label={`${station.name} may turn`}
          className={FIELD}
          value={station.may}
          onChange={(event) => {
            onChange({ may: event.target.value as StationPlanned["may"] });
          }}
        >
          {choices.data?.clearances.map(({ value, said }) => (
            <option key={value} value={value}>
              {said}
            </option>
          ))}
        </select>
        <Unfold label={`More of ${station.name}`} open={open} onToggle={setOpen} />
      </div>
      {open && (
        <form
          className="flex flex-wrap items-center gap-x-4 gap-y-1 pb-2"
          onSubmit={(event) => {
            event.preventDefault();
            onChange({ comes_in_minutes: Math.max(0, Number(late)) });
            setLate("");
          }}
        >
          <label className="flex items-center gap-1">
            comes in
            <input
              inputMode="numeric"
              aria-label={`${station.name} comes in how many minutes`}
              className={`${FIELD} w-14 text-right`}
              value={late}
              onChange={(event) => {
                setLate(event.target.value.replace(/\D/g, "").slice(0, 3));
              }}
            />
            min
          </label>
          <Button type="submit" disabled={late === ""}>
            Set
          </Button>
          {station.person_id !== null && station.may !== "teacher" && (
            <label className="flex min-h-11 items-center gap-2">
              <input
                type="checkbox"
                checked={station.own_only}
                onChange={(event) => {
                  onChange({ own_only: event.target.checked });
                }}
              />
              only their own
            </label>
          )}
          <Button aria-label={`${station.name} is not there`} onClick={onRemove}>
            Not there
          </Button>
        </form>
      )}
    </li>
  );
}

interface AddPeopleProps {
  planned: Planned;
  onAdd: (station: Parameters<ReturnType<typeof useAddStation>["mutate"]>[0]) => void;
  onAgain: (() => void) | null;
}

function AddPeople({ planned, onAdd, onAgain }: AddPeopleProps) {
  const people = usePeople();
  const choices = useChoices();
  const there = new Set(planned.stations.map((each) => each.person_id));
  const names = new Set(planned.stations.map((each) => each.name));
  const free = (people.data?.people ?? []).filter((each) => each.may !== null && !there.has(each.id));
  const byName = (may: StationPlanned["may"], base: string) => {
    let number = 1;
    while (names.has(`${base} ${String(number)}`)) number += 1;
    onAdd({ name: may === "teacher" ? "teacher" : `${base} ${String(number)}`, may, own_only: false });
  };
  return (
    <div className="flex flex-wrap gap-2 border-t border-rule pt-3">
      {free.length > 0 && (
        <select
          aria-label="Add someone from the roll"
          className={`${FIELD} min-w-44 flex-1`}
          value=""
          onChange={(event) => {
            onAdd({ person_id: event.target.value, own_only: false });
          }}
        >
          <option value="" disabled>
            Add someone from the roll…
          </option>
          {free.map((each) => (
            <option key={each.id} value={each.id}>
              {each.name}, {choices.data?.clearances.find(({ value }) => value === each.may)?.said}
            </option>
          ))}
        </select>
      )}
      {onAgain !== null && <Button onClick={onAgain}>As last time</Button>}
      {planned.stations.every((each) => each.may !== "teacher") && (
        <Button
          onClick={() => {
            byName("teacher", "teacher");
          }}
        >
          Add a teacher
        </Button>
      )}
      <Button
        onClick={() => {
          byName("pegs", "helper");
        }}
      >
        Add a helper
      </Button>
      <Button
        onClick={() => {
          byName("fine-tuners", "student");
        }}
      >
        Add a student
      </Button>
    </div>
  );
}
