import { useState } from "react";
import { Link } from "react-router";

import type { InstrumentChange, OnRoll } from "../../api/instruments";
import { useChangeInstrument, useChoices, useKinds } from "../../api/instruments";
import type { Person } from "../../api/people";
import { Button } from "../../parts/Button";
import { FIELD } from "../../parts/field";
import { ago } from "../../parts/figures";
import { Trouble } from "../../parts/Trouble";
import { Unfold } from "../../parts/Unfold";
import { Written } from "./Written";

interface InstrumentLineProps {
  instrument: OnRoll;
  people: Person[];
  /** What stands above it already. */
  by?: string;
}

/** One instrument of the roll: to its bench, or opened to change what is kept of it. */
export function InstrumentLine({ instrument, people, by }: InstrumentLineProps) {
  const [open, setOpen] = useState(false);
  const change = useChangeInstrument();
  const set = (changes: InstrumentChange) => {
    change.mutate({ id: instrument.id, change: changes });
  };
  return (
    <>
      <div className="flex items-center">
        <Link
          to={`/bench/${instrument.id}`}
          className="grid min-h-12 min-w-0 flex-1 grid-cols-[minmax(0,1fr)_minmax(0,1.2fr)] items-baseline gap-x-4 rounded-md px-2 py-2 hover:bg-lit sm:grid-cols-[9rem_6.5rem_6rem_minmax(0,1fr)]"
        >
          <span className="truncate text-xl font-bold">{instrument.label}</span>
          <span>
            {instrument.kind} {instrument.size}
          </span>
          <span>{instrument.player}</span>
          <span className="text-pencil">
            {Object.entries(instrument.details).map(([name, each]) => name !== by && `${each}; `)}
            {instrument.at_luthier ? "at the luthier’s" : tuned(instrument.last_tuned)}
            {instrument.note !== "" && `; ${instrument.note}`}
          </span>
        </Link>
        {instrument.retired ? (
          <Button
            onClick={() => {
              set({ retired: false });
            }}
          >
            Bring back
          </Button>
        ) : (
          <Unfold label={`Change ${instrument.label}`} open={open} onToggle={setOpen} />
        )}
      </div>
      {open && !instrument.retired && <Details instrument={instrument} people={people} onChange={set} />}
      <Trouble error={change.error} />
    </>
  );
}

function tuned(at: string | null): string {
  return at === null ? "not on the bench yet" : `on the bench ${ago(at, Date.now())}`;
}

interface DetailsProps extends InstrumentLineProps {
  onChange: (change: InstrumentChange) => void;
}

function Details({ instrument, people, onChange }: DetailsProps) {
  const kinds = useKinds();
  const besides = useChoices().data?.details ?? [];
  const sizes = kinds.data?.find((each) => each.kind === instrument.kind)?.sizes ?? [instrument.size];
  return (
    <div className="mb-3 grid gap-3 rounded-md border border-rule bg-sheet p-3 sm:grid-cols-2">
      <Written
        label="Label"
        value={instrument.label}
        onSet={(label) => {
          onChange({ label });
        }}
      />
      <label className="flex flex-col text-sm font-bold text-pencil">
        Who has it
        <select
          className={`${FIELD} font-normal text-ink`}
          value={instrument.player_id ?? ""}
          onChange={(event) => {
            onChange({ player_id: event.target.value === "" ? null : event.target.value });
          }}
        >
          <option value="">nobody</option>
          {people.map((each) => (
            <option key={each.id} value={each.id}>
              {each.name}
            </option>
          ))}
        </select>
      </label>
      <label className="flex flex-col text-sm font-bold text-pencil">
        Size
        <select
          className={`${FIELD} font-normal text-ink`}
          value={instrument.size}
          onChange={(event) => {
            onChange({ size: event.target.value });
          }}
        >
          {sizes.map((each) => (
            <option key={each}>{each}</option>
          ))}
        </select>
      </label>
      <Written
        label="Played, hours a week (if known)"
        value={instrument.hours_per_week === null ? "" : String(instrument.hours_per_week)}
        onSet={(text) => {
          onChange({ hours_per_week: text === "" ? null : Number(text.replace(",", ".")) });
        }}
      />
      {besides.map(({ value, said }) => (
        <Written
          key={value}
          label={said.charAt(0).toUpperCase() + said.slice(1)}
          value={instrument.details[value] ?? ""}
          onSet={(text) => {
            onChange({ details: { ...instrument.details, [value]: text } });
          }}
        />
      ))}
      <div className="sm:col-span-2">
        <Written
          label="Note"
          value={instrument.note}
          onSet={(note) => {
            onChange({ note });
          }}
        />
      </div>
      <p className="text-pencil sm:col-span-2">
        Strings, fine tuners and pegs: on its bench, under “How we tune”. New strings and faults: on its ledger.
      </p>
      <div className="flex flex-wrap gap-2 sm:col-span-2">
        <Link
          to={`/ledger/${instrument.id}`}
          className="flex min-h-11 items-center rounded-md border border-ink/60 bg-sheet px-3.5 hover:bg-lit"
        >
          Ledger
        </Link>
        <Button
          onClick={() => {
            onChange({ retired: true });
          }}
        >
          No longer in use
        </Button>
      </div>
    </div>
  );
}
