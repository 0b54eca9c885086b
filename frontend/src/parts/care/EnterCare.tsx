import { useState } from "react";

import { useAddCare, useCare } from "../../api/care";
import type { NewCare } from "../../api/care";
import { Button } from "../Button";
import { FIELD } from "../field";
import { Trouble } from "../Trouble";

const KINDS: [NewCare["kind"], string][] = [
  ["string-changed", "New string"],
  ["fault", "Fault seen"],
  ["luthier-out", "To the luthier"],
  ["luthier-in", "Back from the luthier"],
  ["note", "Note"],
];

interface EnterCareProps {
  instrument: { id: string; strings: { name: string }[] };
}

/** Enter what was done to an instrument or noticed of it. */
export function EnterCare({ instrument }: EnterCareProps) {
  const care = useCare();
  const add = useAddCare();
  const [kind, setKind] = useState<NewCare["kind"]>("string-changed");
  const [string, setString] = useState(instrument.strings.at(-1)?.name ?? "");
  const [sign, setSign] = useState<NonNullable<NewCare["sign"]>>("peg-slips");
  const [said, setSaid] = useState("");
  const [on, setOn] = useState("");
  const [due, setDue] = useState("");
  const facts = care.data?.signs.find((each) => each.sign === sign);
  const ofString = kind === "string-changed" || (kind === "fault" && facts?.of_string !== false);
  const keep = () => {
    add.mutate(
      {
        instrument: instrument.id,
        entry: {
          kind,
          string: ofString ? string : null,
          sign: kind === "fault" ? sign : null,
          said,
          on: on === "" ? null : on,
          due: kind === "luthier-out" && due !== "" ? due : null,
        },
      },
      {
        onSuccess: () => {
          setSaid("");
          setOn("");
        },
      },
    );
  };
  return (
    <form
      className="flex flex-wrap items-end gap-2 rounded-lg border border-rule bg-sheet p-3"
      onSubmit={(event) => {
        event.preventDefault();
        keep();
      }}
    >
      <select
        aria-label="What"
        className={FIELD}
        value={kind}
        onChange={(event) => {
          setKind(event.target.value as NewCare["kind"]);
        }}
      >
        {KINDS.map(([value, label]) => (
          <option key={value} value={value}>
            {label}
          </option>
        ))}
      </select>
      {ofString && (
        <select
          aria-label="Which string"
          className={FIELD}
          value={string}
          onChange={(event) => {
            setString(event.target.value);
          }}
        >
          {instrument.strings.map((each) => (
            <option key={each.name}>{each.name}</option>
          ))}
        </select>
      )}
      {kind === "fault" && (
        <select
          aria-label="Which fault"
          className={`${FIELD} min-w-0 flex-1`}
          value={sign}
          onChange={(event) => {
            setSign(event.target.value as NonNullable<NewCare["sign"]>);
          }}
        >
          {(care.data?.signs ?? []).map((each) => (
            <option key={each.sign} value={each.sign}>
              {each.said}
            </option>
          ))}
        </select>
      )}
      <Day label="on" value={on} onSet={setOn} />
      {kind === "luthier-out" && <Day label="back by" value={due} onSet={setDue} />}
      <input
        aria-label="In words"
        placeholder={kind === "luthier-in" ? "what was done" : kind === "luthier-out" ? "why" : "in words, if need be"}
        className={`${FIELD} min-w-40 flex-1`}
        value={said}
        maxLength={500}
        onChange={(event) => {
          setSaid(event.target.value);
        }}
      />
      <Button type="submit" disabled={add.isPending}>
        Enter
      </Button>
      {kind === "fault" && facts !== undefined && (
        <p className="w-full">
          Likely: {facts.likely}. {facts.do}.
        </p>
      )}
      <div className="w-full empty:hidden">
        <Trouble error={add.error} />
      </div>
    </form>
  );
}

function Day({ label, value, onSet }: { label: string; value: string; onSet: (day: string) => void }) {
  return (
    <label className="flex items-center gap-1">
      {label}
      <input
        type="date"
        className={FIELD}
        value={value}
        onChange={(event) => {
          onSet(event.target.value);
        }}
      />
    </label>
  );
}
