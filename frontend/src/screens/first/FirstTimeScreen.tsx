import type { ReactNode } from "react";
import { useState } from "react";
import { useNavigate } from "react-router";

import type { KindFacts } from "../../api/client";
import { newId } from "../../api/client";
import type { FirstTime } from "../../api/firstTime";
import { useBeginFirstTime, useLooks } from "../../api/firstTime";
import { useKinds } from "../../api/instruments";
import { Button } from "../../parts/Button";
import { Shell } from "../../parts/Shell";
import { Trouble } from "../../parts/Trouble";
import { Word } from "../../parts/explained/Word";
import { BridgeStands, Held, RulerOnString } from "./drawings";

type Kind = KindFacts["kind"];
type Bridge = FirstTime["bridge"];
type StringState = NonNullable<FirstTime["strings"]>[string];

/** For someone with one instrument and no words for it: a few looks, and then the bench in its plainest form. */
export function FirstTimeScreen() {
  const kinds = useKinds();
  const looks = useLooks();
  const begin = useBeginFirstTime();
  const navigate = useNavigate();
  const [kind, setKind] = useState<Kind | null>(null);
  const [size, setSize] = useState<string | null>(null);
  const [bridge, setBridge] = useState<Bridge | null>(null);
  const [strings, setStrings] = useState<Record<string, StringState>>({});
  const [looked, setLooked] = useState(false);
  const [adult, setAdult] = useState<boolean | null>(null);
  const facts = kinds.data?.find((each) => each.kind === kind);
  const stop = looks.data?.bridges.find((each) => each.value === bridge)?.stop ?? "";

  const [id] = useState(newId);

  const go = () => {
    if (kind === null || size === null || bridge === null || adult === null) return;
    begin.mutate(
      { id, kind, size, bridge, strings, adult },
      { onSuccess: () => void navigate(`/plain/${id}`) },
    );
  };

  return (
    <Shell title="It sounds wrong">
      <main id="content" tabIndex={-1} className="flex max-w-3xl flex-col gap-7 py-4 outline-none">
        <p className="text-xl">
          A few looks at it first, then one string after the other. Nothing can go wrong by looking.
        </p>
        <Ask title="Which one is it?">
          <div className="grid gap-2 sm:grid-cols-3">
            {looks.data?.kinds.map(({ value, said }) => (
              <Pick
                key={value}
                chosen={kind === value}
                said={said}
                onPick={() => {
                  setKind(value);
                  setSize(null);
                  setStrings({});
                }}
              >
                <Held kind={value} />
              </Pick>
            ))}
          </div>
        </Ask>
        {facts !== undefined && (
          <Ask title="How big is it?">
            <p className="text-lg">
              Lay a ruler along a string, from the little ridge at the top of the fingerboard (the nut) to the{" "}
              <Word term="bridge">bridge</Word> that carries it. Choose the nearest length. Children play
              smaller ones.
            </p>
            <RulerOnString />
            <div className="flex flex-wrap gap-2">
              {facts.sizes.map((each) => (
                <Button
                  key={each}
                  aria-pressed={size === each}
                  look={size === each ? "main" : "plain"}
                  onClick={() => {
                    setSize(each);
                  }}
                >
                  {((facts.lengths_mm[each] ?? 0) / 10).toFixed(1)} cm
                </Button>
              ))}
            </div>
          </Ask>
        )}
        {size !== null && (
          <Ask title="Does the bridge stand?">
            <p className="text-lg">
              The bridge is the thin wooden piece that carries the strings. Look at it from the side.
            </p>
            <div className="grid grid-cols-2 gap-2 sm:grid-cols-4">
              {looks.data?.bridges.map(({ value, said }) => (
                <Pick
                  key={value}
                  chosen={bridge === value}
                  said={said}
                  onPick={() => {
                    setBridge(value);
                  }}
                >
                  <BridgeStands how={value} />
                </Pick>
              ))}
            </div>
          </Ask>
        )}
        {stop !== "" && (
          <section role="alert" className="rounded-lg border-2 border-above bg-sheet p-4">
            <h2 className="text-2xl font-bold">Stop here: turn nothing.</h2>
            <p className="mt-1 text-lg">{stop}</p>
          </section>
        )}
        {bridge !== null && stop === "" && facts !== undefined && (
          <Ask title="Touch each string: is one loose, or gone?">
            <p className="text-lg">From the thickest to the thinnest:</p>
            <ul className="flex flex-col gap-2">
              {facts.strings.map((name) => (
                <li key={name} className="flex flex-wrap items-center gap-2">
                  <b className="w-24 text-xl">{name} string</b>
                  {looks.data?.strings.map(({ value, said }) => (
                    <Button
                      key={value}
                      aria-label={`${name} string: ${said}`}
                      aria-pressed={(strings[name] ?? (looked ? "on" : null)) === value}
                      look={(strings[name] ?? (looked ? "on" : null)) === value ? "main" : "plain"}
                      onClick={() => {
                        setLooked(true);
                        setStrings((before) => ({ ...before, [name]: value }));
                      }}
                    >
                      {said}
                    </Button>
                  ))}
                </li>
              ))}
            </ul>
            {!looked && (
              <Button
                className="self-start"
                onClick={() => {
                  setLooked(true);
                }}
              >
                All four are tight
              </Button>
            )}
          </Ask>
        )}
        {looked && stop === "" && bridge !== null && (
          <Ask title="Is a grown-up there?">
            <p className="text-lg">
              The wooden <Word term="peg">pegs</Word> pull hard and a string can snap; a grown-up turns them.
              The small metal <Word term="fine-tuner">fine tuners</Word> are for everyone.
            </p>
            <div className="flex flex-wrap gap-2">
              {(
                [
                  [true, "Yes, or I am one"],
                  [false, "No, only me"],
                ] as const
              ).map(([value, said]) => (
                <Button
                  key={said}
                  aria-pressed={adult === value}
                  look={adult === value ? "main" : "plain"}
                  onClick={() => {
                    setAdult(value);
                  }}
                >
                  {said}
                </Button>
              ))}
            </div>
          </Ask>
        )}
        {adult !== null && looked && stop === "" && (
          <Button
            look="main"
            className="min-h-16 self-start px-6 text-2xl"
            disabled={begin.isPending}
            onClick={go}
          >
            To the first string
          </Button>
        )}
        <Trouble error={begin.error ?? looks.error ?? kinds.error} />
      </main>
    </Shell>
  );
}

function Ask({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section aria-label={title} className="flex flex-col gap-3">
      <h2 className="border-b-2 border-ink pb-1 text-2xl font-bold">{title}</h2>
      {children}
    </section>
  );
}

interface PickProps {
  chosen: boolean;
  said: string;
  onPick: () => void;
  children: ReactNode;
}

/** A drawing with its words, to be chosen. */
function Pick({ chosen, said, onPick, children }: PickProps) {
  return (
    <button
      type="button"
      aria-pressed={chosen}
      onClick={onPick}
      className={`flex flex-col items-center gap-2 rounded-lg border-2 p-3 text-center text-lg ${chosen ? "border-ink bg-lit font-bold" : "border-ink/40 bg-sheet hover:bg-lit"}`}
    >
      {children}
      {said}
    </button>
  );
}
