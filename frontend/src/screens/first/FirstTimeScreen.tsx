import { ArrowLeft } from "lucide-react";
import type { ReactNode } from "react";
import { useEffect, useRef, useState } from "react";
import { useNavigate } from "react-router";

import { newId } from "../../api/client";
import type { FirstTime } from "../../api/firstTime";
import { useBeginFirstTime, useLooks } from "../../api/firstTime";
import { useKinds } from "../../api/instruments";
import { Button } from "../../parts/Button";
import { Folded } from "../../parts/Folded";
import { Shell } from "../../parts/Shell";
import { Trouble } from "../../parts/Trouble";
import { Word } from "../../parts/explained/Word";
import { BEGINS_TO_LISTEN } from "../bench/beginsToListen";
import { beginBenchWith } from "../bench/useBenchMemory";
import { BridgeStands, InstrumentDrawn, PegDrawn, RulerOnString, TailpieceDrawn } from "./drawings";

type Seen = Partial<Omit<FirstTime, "id">>;

const STEPS = ["kind", "size", "bridge", "fine_tuners", "adult"] as const;
type Step = (typeof STEPS)[number];
const ASKS: Record<Step, string> = {
  kind: "Which one is it?",
  size: "How long is a string?",
  bridge: "Does the bridge stand?",
  fine_tuners: "Which strings have a little screw?",
  adult: "Is a grown-up there?",
};

/** For someone with one instrument and no words for it: one short question at a time, and then the bench in its plainest form. */
export function FirstTimeScreen() {
  const kinds = useKinds();
  const looks = useLooks();
  const begin = useBeginFirstTime();
  const navigate = useNavigate();
  const [seen, setSeen] = useState<Seen>({});
  const [at, setAt] = useState<Step>("kind");
  const [id] = useState(newId);
  const heading = useRef<HTMLHeadingElement>(null);
  const moved = useRef(false);
  const facts = kinds.data?.find((each) => each.kind === seen.kind);
  const stopOf = (bridge: Seen["bridge"]) => looks.data?.bridges.find((each) => each.value === bridge)?.stop ?? "";
  const stop = stopOf(seen.bridge);
  const place = STEPS.indexOf(at);

  useEffect(() => {
    if (!moved.current) return;
    heading.current?.focus();
    window.scrollTo(0, 0);
  }, [at]);

  const turnTo = (step: Step) => {
    moved.current = true;
    setAt(step);
  };
  const go = (whole: Seen) => {
    begin.mutate(
      { ...(whole as Omit<FirstTime, "id">), id },
      {
        onSuccess: () => {
          beginBenchWith(id, { from: "microphone" });
          void navigate(`/plain/${id}`, { state: BEGINS_TO_LISTEN });
        },
      },
    );
  };
  const answer = (told: Seen) => {
    const whole = { ...seen, ...told };
    setSeen(whole);
    const next = STEPS[place + 1];
    if (stopOf(told.bridge) !== "") return;
    if (next === undefined) go(whole);
    else turnTo(next);
  };

  return (
    <Shell title="It sounds wrong">
      <main id="content" tabIndex={-1} className="flex max-w-3xl flex-col gap-4 py-4 outline-none">
        <div className="flex items-center gap-3">
          {place > 0 && (
            <Button
              look="quiet"
              onClick={() => {
                turnTo(STEPS[place - 1] ?? "kind");
              }}
            >
              <ArrowLeft size={18} aria-hidden /> Back
            </Button>
          )}
          <p className="text-pencil">
            {place + 1} of {STEPS.length}: a look, nothing is turned yet
          </p>
        </div>
        <section aria-label={ASKS[at]} className="flex flex-col gap-4">
          <h2 ref={heading} tabIndex={-1} className="text-3xl font-bold outline-none">
            {ASKS[at]}
          </h2>
          {at === "kind" && (
            <Pictures
              columns="grid-cols-3"
              looks={looks.data?.kinds}
              chosen={seen.kind}
              draw={(kind) => <InstrumentDrawn kind={kind} />}
              onPick={(kind) => {
                answer(kind === seen.kind ? {} : { kind, strings: {} });
              }}
            />
          )}
          {at === "kind" && (
            <Folded title="I can’t tell">
              <p className="text-lg">
                Between the knees, on a spike: a cello. Under the chin: let a tuner hear the thickest string. G is a violin, C a
                viola.
              </p>
            </Folded>
          )}
          {at === "size" && facts !== undefined && (
            <>
              <p className="text-lg">
                From the ridge at the top of the fingerboard (the nut) to the <Word term="bridge">bridge</Word>. The nearest
                will do.
              </p>
              <RulerOnString />
              <div className="flex flex-wrap gap-2">
                {facts.sizes.map((each) => (
                  <Button
                    key={each}
                    className="min-h-14 text-lg"
                    aria-pressed={seen.size === each}
                    onClick={() => {
                      answer({ size: each });
                    }}
                  >
                    {((facts.lengths_mm[each] ?? 0) / 10).toFixed(1)} cm
                  </Button>
                ))}
                <Button
                  className="min-h-14 text-lg"
                  title="Then it is taken for a full-sized one"
                  onClick={() => {
                    answer({ size: null });
                  }}
                >
                  I can’t tell
                </Button>
              </div>
            </>
          )}
          {at === "bridge" && (
            <>
              <p className="text-lg">It is the thin piece of wood that carries the strings. Look from the side.</p>
              <Pictures
                columns="grid-cols-2 sm:grid-cols-4"
                looks={looks.data?.bridges}
                chosen={seen.bridge}
                draw={(how) => <BridgeStands how={how} />}
                onPick={(bridge) => {
                  answer({ bridge });
                }}
              />
              <Folded title="I can’t tell">
                <p className="text-lg">{looks.data?.bridge_help}</p>
              </Folded>
              {stop !== "" && (
                <section role="alert" className="rounded-lg border-2 border-above bg-sheet p-4">
                  <h3 className="text-2xl font-bold">Stop here: turn nothing.</h3>
                  <p className="mt-1 text-lg">{stop}</p>
                </section>
              )}
            </>
          )}
          {at === "fine_tuners" && facts !== undefined && (
            <>
              <p className="text-lg">
                Look where the strings end, below the bridge: small metal screws there are{" "}
                <Word term="fine-tuner">fine tuners</Word>.
              </p>
              <Pictures
                columns="grid-cols-2 sm:grid-cols-4"
                looks={looks.data?.fine_tuners}
                chosen={seen.fine_tuners}
                draw={(screws) =>
                  screws === "unsure" ? <Unknown /> : <TailpieceDrawn strings={facts.strings.length} screws={screws} />
                }
                onPick={(fine_tuners) => {
                  answer({ fine_tuners });
                }}
              />
              <Folded title="A string is loose, or gone">
                <Strings
                  names={facts.strings}
                  looks={looks.data?.strings ?? []}
                  seen={seen.strings ?? {}}
                  onSeen={(strings) => {
                    setSeen({ ...seen, strings });
                  }}
                />
              </Folded>
            </>
          )}
          {at === "adult" && (
            <>
              <div className="flex items-center gap-4">
                <PegDrawn />
                <p className="text-lg">
                  The wooden <Word term="peg">pegs</Word> pull hard and a string can snap: a grown-up turns them.
                </p>
              </div>
              <Answers
                said={[
                  ["Yes, or I am one", { adult: true }],
                  ["No, only me", { adult: false }],
                ]}
                onAnswer={answer}
              />
            </>
          )}
        </section>
        <Trouble error={begin.error ?? looks.error ?? kinds.error} />
      </main>
    </Shell>
  );
}

interface AnswersProps {
  said: [string, Seen][];
  onAnswer: (told: Seen) => void;
}

function Answers({ said, onAnswer }: AnswersProps) {
  return (
    <div className="flex flex-col gap-2 sm:flex-row">
      {said.map(([words, told]) => (
        <Button
          key={words}
          className="min-h-16 px-5 text-xl"
          onClick={() => {
            onAnswer(told);
          }}
        >
          {words}
        </Button>
      ))}
    </div>
  );
}

interface StringsProps {
  names: string[];
  looks: { value: NonNullable<FirstTime["strings"]>[string]; said: string }[];
  seen: NonNullable<FirstTime["strings"]>;
  onSeen: (strings: NonNullable<FirstTime["strings"]>) => void;
}

/** Each string, from the thickest: tight unless something else is said. */
function Strings({ names, looks, seen, onSeen }: StringsProps) {
  return (
    <>
      <p className="text-lg">Touch each string, from the thickest to the thinnest.</p>
      <ul className="flex flex-col gap-2">
        {names.map((name) => (
          <li key={name} className="flex flex-wrap items-center gap-1.5 sm:gap-2">
            <b className="w-8 text-xl sm:w-12">{name}</b>
            {looks.map(({ value, said }) => (
              <Button
                key={value}
                aria-label={`${name} string: ${said}`}
                aria-pressed={(seen[name] ?? "on") === value}
                className={`max-sm:px-2 ${(seen[name] ?? "on") === value ? "border-2 border-ink bg-lit font-bold" : ""}`}
                onClick={() => {
                  onSeen({ ...seen, [name]: value });
                }}
              >
                {said}
              </Button>
            ))}
          </li>
        ))}
      </ul>
    </>
  );
}

function Unknown() {
  return (
    <span aria-hidden className="flex h-24 items-center text-6xl font-bold text-pencil">
      ?
    </span>
  );
}

interface PicturesProps<V extends string> {
  columns: string;
  looks: { value: V; said: string }[] | undefined;
  chosen: V | undefined;
  draw: (value: V) => ReactNode;
  onPick: (value: V) => void;
}

/** Drawings with their words, one to be chosen. */
function Pictures<V extends string>({ columns, looks = [], chosen, draw, onPick }: PicturesProps<V>) {
  return (
    <div className={`grid gap-2 ${columns}`}>
      {looks.map(({ value, said }) => (
        <button
          key={value}
          type="button"
          aria-pressed={chosen === value}
          onClick={() => {
            onPick(value);
          }}
          className={`flex flex-col items-center justify-end gap-2 rounded-lg border-2 p-2 text-center leading-tight hyphens-auto sm:p-3 sm:text-lg ${chosen === value ? "border-ink bg-lit font-bold" : "border-ink/40 bg-sheet hover:bg-lit"}`}
        >
          {draw(value)}
          {said}
        </button>
      ))}
    </div>
  );
}
