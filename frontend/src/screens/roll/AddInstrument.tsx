import { useState } from "react";
import { useNavigate } from "react-router";

import type { KindFacts } from "../../api/client";
import { newId } from "../../api/client";
import { useAddInstrument, useInstruments } from "../../api/instruments";
import { Button } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { FIELD } from "../../parts/field";
import { Trouble } from "../../parts/Trouble";

/** One more instrument: kind, size, label, and at once to its bench. */
export function AddInstrument({ kinds }: { kinds: KindFacts[] }) {
  const [kind, setKind] = useState<KindFacts["kind"]>("violin");
  const [size, setSize] = useState<string | null>(null);
  const [label, setLabel] = useState("");
  const add = useAddInstrument();
  const instruments = useInstruments(true);
  const navigate = useNavigate();
  const facts = kinds.find((each) => each.kind === kind);
  if (facts === undefined) return null;
  const keep = async () => {
    const id = newId();
    const name = label.trim() || unnamed(kind, instruments.data ?? []);
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
        options={kinds.map((each) => ({ value: each.kind, said: each.kind }))}
        onChange={(chosen) => {
          setKind(chosen);
          setSize(null);
        }}
      />
      <Choice
        label={kind === "viola" ? "Size (body, inches)" : "Size"}
        value={size ?? facts.full_size}
        options={facts.sizes.map((each) => ({ value: each, said: each }))}
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
          className={FIELD}
        />
      </label>
      <Trouble error={add.error} />
      <Button type="submit" look="main" disabled={add.isPending}>
        Add and tune it
      </Button>
    </form>
  );
}

/** What one without a label is called, so that two of them are told apart. */
function unnamed(kind: string, others: { label: string }[]): string {
  const taken = new Set(others.map((each) => each.label));
  for (let count = 1; ; count++) {
    const name = count === 1 ? `A ${kind}` : `A ${kind}, ${String(count)}`;
    if (!taken.has(name)) return name;
  }
}
