import { useState } from "react";
import { Link, useNavigate } from "react-router";

import type { InstrumentInList, KindFacts } from "../../api/client";
import { newId } from "../../api/client";
import { useAddInstrument, useInstruments, useKinds } from "../../api/instruments";
import { Button } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { Shell } from "../../parts/Shell";
import { Trouble } from "../../parts/Trouble";

/** Which instrument is on the lap: choose one, or add it. */
export function ChooseScreen() {
  const instruments = useInstruments();
  const kinds = useKinds();
  const none = instruments.data?.length === 0;
  return (
    <Shell
      tools={
        <>
          <Link to="/morning" className="flex min-h-11 items-center rounded-md px-3 hover:bg-lit">
            Morning
          </Link>
          <span className="ml-auto" />
        </>
      }
    >
      <main className="grid gap-8 py-6 lg:grid-cols-[1.6fr_1fr]">
        <section>
          <h1 className="mb-4 text-3xl font-bold">Which instrument is it?</h1>
          <Trouble error={instruments.error} />
          {none && (
            <p className="text-lg">
              None is kept yet. Add the one in your hands; you can tune it at once, and say more about it
              later.
            </p>
          )}
          <InstrumentList instruments={instruments.data ?? []} />
        </section>
        {kinds.data !== undefined && <AddInstrument kinds={kinds.data} />}
      </main>
    </Shell>
  );
}

function InstrumentList({ instruments }: { instruments: InstrumentInList[] }) {
  return (
    <ul className="divide-y divide-rule border-y border-rule empty:hidden">
      {instruments.map((each) => (
        <li key={each.id}>
          <Link
            to={`/bench/${each.id}`}
            className="flex min-h-14 flex-wrap items-baseline gap-x-4 px-2 py-3 hover:bg-lit"
          >
            <span className="min-w-36 text-xl font-bold">{each.label}</span>
            <span className="min-w-28 text-lg">
              {each.kind} {each.size}
            </span>
            <span className="text-pencil">{each.note}</span>
          </Link>
        </li>
      ))}
    </ul>
  );
}

function AddInstrument({ kinds }: { kinds: KindFacts[] }) {
  const [kind, setKind] = useState<KindFacts["kind"]>("violin");
  const [size, setSize] = useState<string | null>(null);
  const [label, setLabel] = useState("");
  const add = useAddInstrument();
  const navigate = useNavigate();
  const facts = kinds.find((each) => each.kind === kind);
  if (facts === undefined) return null;
  const keep = async () => {
    const id = newId();
    const name = label.trim() || `A ${kind}`;
    try {
      await add.mutateAsync({ id, label: name, kind, size: size ?? facts.full_size });
    } catch {
      return;
    }
    void navigate(`/bench/${id}`);
  };
  return (
    <form
      className="flex flex-col gap-4 self-start rounded-lg border border-rule bg-sheet p-5"
      onSubmit={(event) => {
        event.preventDefault();
        void keep();
      }}
    >
      <h2 className="text-xl font-bold">Add an instrument</h2>
      <Choice
        label="Kind"
        value={kind}
        options={kinds.map((each) => ({ value: each.kind, label: each.kind }))}
        onChange={(chosen) => {
          setKind(chosen);
          setSize(null);
        }}
      />
      <Choice
        label={kind === "viola" ? "Size (body, inches)" : "Size"}
        value={size ?? facts.full_size}
        options={facts.sizes.map((each) => ({ value: each, label: each }))}
        onChange={setSize}
      />
      <label className="flex flex-col gap-1">
        <span className="text-sm font-bold text-pencil">Label on it, if any</span>
        <input
          value={label}
          maxLength={80}
          onChange={(event) => {
            setLabel(event.target.value);
          }}
          className="min-h-11 rounded-md border border-ink/60 bg-paper px-3"
        />
      </label>
      <Trouble error={add.error} />
      <Button type="submit" look="main" disabled={add.isPending}>
        Add and tune it
      </Button>
    </form>
  );
}
