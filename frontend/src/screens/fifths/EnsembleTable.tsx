import { Disclosure, DisclosureButton, DisclosurePanel } from "@headlessui/react";
import { ChevronDown, X } from "lucide-react";
import { useState } from "react";

import type { Ensemble, Fifths } from "../../api/fifths";
import { useEnsemble } from "../../api/fifths";
import type { Kind } from "../../api/instruments";
import { useKinds } from "../../api/instruments";
import { Button } from "../../parts/Button";
import { signed } from "../../parts/figures";

interface Player {
  name: string;
  instrument: Kind;
  a4: number;
  school: "tempered" | "pure" | "as here";
}

const QUARTET: Player[] = [
  { name: "violin I", instrument: "violin", a4: 440, school: "as here" },
  { name: "violin II", instrument: "violin", a4: 440, school: "as here" },
  { name: "viola", instrument: "viola", a4: 440, school: "as here" },
  { name: "cello", instrument: "cello", a4: 440, school: "as here" },
];

/** Several instruments that play together: where their open strings clash, each with its reference and school. */
export function EnsembleTable({ fifths }: { fifths: Fifths }) {
  const [players, setPlayers] = useState(() => QUARTET.map((each) => ({ ...each, a4: fifths.tuning.a4 })));
  const kinds = useKinds().data ?? [];
  const here = fifths.tuning.fifth_cents;
  const members = players.map(({ name, instrument, a4, school }) => ({
    name,
    instrument,
    a4,
    target: school === "as here" ? { fifth_cents: here } : school,
  }));
  const found = useEnsemble(members, fifths.tuning.a4);
  const change = (place: number, changes: Partial<Player>) => {
    setPlayers(players.map((each, at) => (at === place ? { ...each, ...changes } : each)));
  };
  return (
    <Disclosure as="section" className="rounded-lg border border-rule bg-sheet p-4">
      <DisclosureButton className="flex min-h-11 w-full items-center justify-between text-lg font-bold">
        Playing with others <ChevronDown size={20} aria-hidden />
      </DisclosureButton>
      <DisclosurePanel className="flex flex-col gap-3">
        <ul className="flex flex-col gap-2">
          {players.map((each, place) => (
            <PlayerLine
              key={each.name}
              player={each}
              onChange={(changes) => {
                change(place, changes);
              }}
              onRemove={() => {
                setPlayers(players.filter((_, at) => at !== place));
              }}
            />
          ))}
        </ul>
        <div className="flex flex-wrap gap-2">
          {kinds.map(({ kind }) => (
            <Button
              key={kind}
              onClick={() => {
                setPlayers([...players, another(kind, players, fifths.tuning.a4)]);
              }}
            >
              Add a {kind}
            </Button>
          ))}
        </div>
        {found.data !== undefined && members.length > 1 && <Clashes found={found.data} />}
      </DisclosurePanel>
    </Disclosure>
  );
}

function another(kind: Kind, players: Player[], a4: number): Player {
  let number = 2;
  const taken = new Set(players.map((each) => each.name));
  let name: string = kind;
  while (taken.has(name)) name = `${kind} ${String(number++)}`;
  return { name, instrument: kind, a4, school: "as here" };
}

const FIELD = "min-h-11 rounded-md border border-ink/60 bg-paper px-2";

function PlayerLine({
  player,
  onChange,
  onRemove,
}: {
  player: Player;
  onChange: (changes: Partial<Player>) => void;
  onRemove: () => void;
}) {
  return (
    <li className="flex flex-wrap items-center gap-2">
      <b className="min-w-24">{player.name}</b>
      <select
        className={FIELD}
        aria-label={`Reference of ${player.name}`}
        value={player.a4}
        onChange={(event) => {
          onChange({ a4: Number(event.target.value) });
        }}
      >
        {[415, 438, 440, 441, 442, 443].map((hz) => (
          <option key={hz} value={hz}>
            A {hz} Hz
          </option>
        ))}
      </select>
      <select
        className={FIELD}
        aria-label={`School of ${player.name}`}
        value={player.school}
        onChange={(event) => {
          onChange({ school: event.target.value as Player["school"] });
        }}
      >
        <option value="as here">fifths as here</option>
        <option value="tempered">tempered fifths</option>
        <option value="pure">pure fifths</option>
      </select>
      <Button look="quiet" onClick={onRemove} aria-label={`Leave out ${player.name}`}>
        <X size={20} aria-hidden />
      </Button>
    </li>
  );
}

function Clashes({ found }: { found: Ensemble }) {
  return (
    <>
      <p className="text-lg font-bold">{found.said}</p>
      <table className="w-full border-collapse text-left">
        <thead>
          <tr className="border-b border-rule text-sm text-pencil">
            <th scope="col" className="pr-4">
              String
            </th>
            <th scope="col">on a tuner</th>
            <th scope="col" className="text-right">
              apart
            </th>
          </tr>
        </thead>
        <tbody>
          {found.letters.map((each) => (
            <tr key={each.letter} className="border-b border-rule align-top">
              <th scope="row" className="pr-3 text-lg">
                {each.letter}
              </th>
              <td className="py-1">
                {Object.entries(each.cents)
                  .map(([name, cents]) => `${name} ${signed(cents)}`)
                  .join(", ")}
              </td>
              <td className="py-1 text-right whitespace-nowrap">{each.apart_cents.toFixed(1)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
