import { FileDown } from "lucide-react";
import { useState } from "react";

import type { Person, Stage } from "../../api/people";
import { useChoices } from "../../api/instruments";
import { useChangePerson } from "../../api/people";
import { Button } from "../../parts/Button";
import { Trouble } from "../../parts/Trouble";
import { Unfold } from "../../parts/Unfold";
import { ErasePerson } from "./ErasePerson";
import { Written } from "./Written";

const saysMay = (may: Person["may"]) => (each: { value: string }) => each.value === may;

/** One person of the roll, and what they are cleared for. */
export function PersonLine({ person, stages }: { person: Person; stages: Stage[] }) {
  const [open, setOpen] = useState(false);
  const change = useChangePerson();
  const choices = useChoices();
  // What was just pressed shows at once, in the press itself; it stays only if it is kept.
  const [pressed, setPressed] = useState<number[] | null>(null);
  const shown = pressed ?? person.cleared;
  const clear = (stage: number, on: boolean) => {
    const cleared = on ? [...shown, stage] : shown.filter((each) => each !== stage);
    setPressed(cleared);
    const kept = () => {
      setPressed((now) => (now === cleared ? null : now));
    };
    change.mutate({ id: person.id, change: { cleared } }, { onSettled: kept });
  };
  return (
    <>
      <div className="flex min-h-11 items-center gap-3 px-2">
        <b className="min-w-24 flex-1 truncate text-lg">{person.name}</b>
        <span className="text-pencil">
          {person.role === "player" ? "" : `${person.role}, `}
          {person.may === null ? "nothing yet" : choices.data?.clearances.find(saysMay(person.may))?.said}
        </span>
        <Unfold label={`Change ${person.name}`} open={open} onToggle={setOpen} />
      </div>
      {open && (
        <div className="mb-3 flex flex-col gap-1 rounded-md border border-rule bg-sheet p-3">
          {person.role === "player" && (
            <fieldset>
              <legend className="text-sm font-bold text-pencil">Cleared for</legend>
              {stages.map((each) => (
                <label key={each.stage} className="flex min-h-11 items-center gap-2">
                  <input
                    type="checkbox"
                    checked={shown.includes(each.stage)}
                    onChange={(event) => {
                      clear(each.stage, event.target.checked);
                    }}
                  />
                  {each.stage}: {each.said}
                </label>
              ))}
            </fieldset>
          )}
          <Written
            label="Name or initials"
            value={person.name}
            onSet={(name) => {
              change.mutate({ id: person.id, change: { name } });
            }}
          />
          <div className="flex flex-wrap gap-2">
            <Button
              onClick={() => {
                change.mutate({ id: person.id, change: { retired: true } });
              }}
            >
              Has left
            </Button>
            <a
              href={`/api/people/${person.id}/data.json`}
              className="flex min-h-11 items-center gap-2 rounded-md border border-ink/60 bg-sheet px-3.5 hover:bg-lit"
            >
              <FileDown size={18} aria-hidden /> All about {person.name}
            </a>
          </div>
          <ErasePerson person={person} />
        </div>
      )}
      <Trouble error={change.error} />
    </>
  );
}
