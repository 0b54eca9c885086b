import { useState } from "react";

import type { NamedPlace, Person } from "../../api/people";
import { useErase, usePlaces } from "../../api/people";
import { Button } from "../../parts/Button";
import { FIELD } from "../../parts/field";
import { Trouble } from "../../parts/Trouble";

/** Erase a person for good: first every place that holds the name, then the name typed anew. */
export function ErasePerson({ person }: { person: Person }) {
  const [open, setOpen] = useState(false);
  if (!open) {
    return (
      <Button
        className="self-start"
        onClick={() => {
          setOpen(true);
        }}
      >
        Erase {person.name} for good…
      </Button>
    );
  }
  return (
    <Places
      person={person}
      onClose={() => {
        setOpen(false);
      }}
    />
  );
}

const keyOf = (place: NamedPlace) => `${place.table} ${place.id} ${place.field}`;

function Places({ person, onClose }: { person: Person; onClose: () => void }) {
  const found = usePlaces(person.id);
  const erase = useErase(person.id);
  const [name, setName] = useState("");
  const [also, setAlso] = useState<ReadonlySet<string>>(new Set());
  const places = found.data?.places ?? [];
  const unsure = places.filter((each) => !each.sure);
  const toggle = (key: string) => {
    const next = new Set(also);
    if (!next.delete(key)) next.add(key);
    setAlso(next);
  };
  return (
    <form
      aria-label={`Erase ${person.name}`}
      className="flex flex-col gap-2 border-t border-rule pt-2"
      onSubmit={(event) => {
        event.preventDefault();
        const chosen = unsure.filter((each) => also.has(keyOf(each)));
        erase.mutate({ name, also: chosen.map(({ table, id, field }) => ({ table, id, field })) });
      }}
    >
      <p>
        <b>This can’t be undone.</b> The name is taken out of every place below; what {person.name} tuned stays, under no name.
        Backups made before still hold it.
      </p>
      {found.isPending && <p>Looking for every place that holds the name…</p>}
      <ul className="max-h-56 overflow-y-auto">
        {places
          .filter((each) => each.sure)
          .map((each) => (
            <li key={keyOf(each)}>
              {each.where}: <span className="text-pencil">{each.text}</span>
            </li>
          ))}
      </ul>
      {unsure.length > 0 && (
        <fieldset>
          <legend className="font-bold">Do these mean {person.name}, too?</legend>
          {unsure.map((each) => (
            <label key={keyOf(each)} className="flex min-h-11 items-center gap-2">
              <input
                type="checkbox"
                checked={also.has(keyOf(each))}
                onChange={() => {
                  toggle(keyOf(each));
                }}
              />
              <span>
                {each.where}: <span className="text-pencil">{each.text}</span>
              </span>
            </label>
          ))}
        </fieldset>
      )}
      <label className="flex flex-wrap items-center gap-2">
        Type the name to erase it:
        <input
          className={`${FIELD} w-48`}
          value={name}
          onChange={(event) => {
            setName(event.target.value);
          }}
        />
      </label>
      <div className="flex flex-wrap gap-2">
        <Button type="submit" look="main" disabled={name.trim() === "" || erase.isPending}>
          Erase for good
        </Button>
        <Button onClick={onClose}>Keep them</Button>
      </div>
      <Trouble error={found.error ?? erase.error} />
    </form>
  );
}
