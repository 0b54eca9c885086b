import { ArrowDownUp } from "lucide-react";
import { useEffect, useEffectEvent, useRef, useState } from "react";
import { useSearchParams } from "react-router";

import type { StringBench } from "../../api/client";
import { Button } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { Folded } from "../../parts/Folded";
import { Shell } from "../../parts/Shell";
import { Alongside } from "./Alongside";
import { Doing } from "./Doing";
import { Enter } from "./Enter";
import { LastDeed } from "./LastDeed";
import { Forms } from "./Forms";
import type { BenchInHand } from "./OnBench";
import { OnBench } from "./OnBench";
import { fieldsOf } from "./Pads";
import { SomethingWrong } from "./SomethingWrong";
import { begunSound } from "../../sound/startTones";
import { stopTone } from "../../sound/stopTone";
import { WaitingEntries } from "../../parts/WaitingEntries";
import { StringStrip } from "./StringStrip";
import { ToneButton } from "./ToneButton";

/** One plays and says what it is, the other turns: one screen between them, or the same bench on two. */
export function TwoBench() {
  return <OnBench title="Two people">{(inHand) => <Between {...inHand} />}</OnBench>;
}

function Between(inHand: BenchInHand) {
  const { bench, string, controller } = inHand;
  const { from, waits, chooseFrom } = controller;
  const [round, setRound] = useState(false);
  const [address, setAddress] = useSearchParams();
  const here = HERE.find(({ value }) => value === address.get("here"))?.value ?? "both";
  const hasFields = fieldsOf(from, string) !== null;
  const byEar = useEffectEvent(() => {
    chooseFrom("ear");
  });
  useEffect(() => {
    if (!hasFields) byEar();
  }, [hasFields]);
  return (
    <Shell
      title={`${bench.instrument.label}: two people`}
      keepsFocus
      tools={
        here === "both" && (
          <Button
            className="lg:hidden"
            aria-pressed={round}
            title="For whoever sits opposite"
            onClick={() => {
              setRound(!round);
            }}
          >
            <ArrowDownUp size={18} aria-hidden /> Turn round
          </Button>
        )
      }
      more={<Forms here="two" id={bench.instrument.id} />}
    >
      <main
        id="content"
        tabIndex={-1}
        className={`grid flex-1 grid-cols-[minmax(0,1fr)] content-start gap-4 py-3 outline-none ${here === "both" ? "lg:grid-cols-2" : ""}`}
      >
        <div
          className={`flex min-w-0 flex-col gap-3 ${here === "plays" ? "hidden" : ""} ${round && here === "both" ? "max-lg:rotate-180" : ""}`}
        >
          <h2 className="text-lg font-bold text-pencil">Whoever turns</h2>
          {here === "turns" && <Stop bench={bench} onString={controller.choose} />}
          <Doing {...inHand} listening />
        </div>
        <div className={`flex min-w-0 flex-col gap-3 ${here === "turns" ? "hidden" : ""}`}>
          <h2 className="text-lg font-bold text-pencil">Whoever plays: the {string.name}, long and soft</h2>
          <StringStrip strings={controller.strings} waits={waits} current={string.name} onChoose={controller.choose} />
          {from === "ear" ? (
            <>
              <Player string={string} controller={controller} />
              <LastDeed {...controller.lastDeed} />
            </>
          ) : (
            <Enter from={from} string={string} controller={controller} />
          )}
          <WaitingEntries entries={controller.waiting} />
          <SomethingWrong bench={bench} name={string.name} onFittings={controller.changeFittings} />
        </div>
        <div className={here === "both" ? "lg:col-span-2" : ""}>
          <Choice
            inline
            label="On this device"
            value={here}
            options={HERE}
            onChange={(next) => {
              begunSound(); // the stop is heard later, without a press
              setAddress(next === "both" ? {} : { here: next }, { replace: true });
            }}
          />
          <p className="mt-1 text-pencil">
            Where each has a device of their own, open this instrument on both: what one says stands on the other at once, as a
            stop that is seen, heard and felt.
          </p>
        </div>
      </main>
    </Shell>
  );
}

const HERE: { value: "both" | "turns" | "plays"; said: string }[] = [
  { value: "both", said: "both of us" },
  { value: "turns", said: "whoever turns" },
  { value: "plays", said: "whoever plays" },
];
const STOP_STANDS_MS = 2500;

/** What the player says stops the hand: large, with a tone and a buzz; then what comes next. */
function Stop({ bench, onString }: Pick<BenchInHand, "bench"> & { onString: (name: string) => void }) {
  const said = bench.strings.map((each) => each.reading?.id ?? "").join();
  const before = useRef(said);
  const [stopped, setStopped] = useState<StringBench | null>(null);
  const stop = useEffectEvent((ids: string[]) => {
    const spokenOf = bench.strings.find((each, place) => (each.reading?.id ?? "") !== ids[place]) ?? null;
    setStopped(spokenOf);
    const next = spokenOf?.is_left === true ? bench.next_string : spokenOf?.name;
    if (next != null) onString(next); // the hand goes where the player is
  });
  useEffect(() => {
    if (before.current === said) return;
    stop(before.current.split(","));
    before.current = said;
    stopTone();
    // Not every device buzzes, whatever the types say.
    (navigator as { vibrate?: (ms: number) => boolean }).vibrate?.(400);
    const over = setTimeout(() => {
      setStopped(null);
    }, STOP_STANDS_MS);
    return () => {
      clearTimeout(over);
    };
  }, [said]);
  if (stopped === null) return null;
  return (
    <p role="alert" className="flex min-h-48 flex-col items-center justify-center rounded-lg bg-ink p-4 text-center text-paper">
      <b className="text-8xl">Stop</b>
      <span className="text-2xl">
        The {stopped.name}: {stopped.words}
      </span>
    </p>
  );
}

const NOT_YET = [
  ["much lower", "much too low"],
  ["lower", "still too low"],
  ["higher", "past it: too high"],
  ["much higher", "much too high"],
] as const;

/** What the player says, in fields that can be hit without looking. */
function Player({ string, controller }: Pick<BenchInHand, "string" | "controller">) {
  return (
    <section aria-label="What you hear" className="flex flex-col gap-3">
      <ToneButton
        tone={controller.listening.tone}
        octaves={controller.listening.tone.octaves}
        follows
        className="min-h-14 self-start text-xl"
      />
      <button
        type="button"
        className="min-h-32 rounded-lg border-2 border-ink bg-ink text-5xl font-bold text-paper"
        onClick={() => {
          controller.keepSaid("the same");
        }}
      >
        That’s it
      </button>
      <div className="grid grid-cols-2 gap-2">
        {NOT_YET.map(([typed, said]) => (
          <button
            key={typed}
            type="button"
            className="min-h-20 rounded-lg border-2 border-ink bg-sheet px-2 text-xl leading-tight font-bold hover:bg-lit"
            onClick={() => {
              controller.keepSaid(typed);
            }}
          >
            {said}
          </button>
        ))}
      </div>
      <Alongside {...controller.listening} />
      <Folded title="I can’t tell">
        <p>{string.cant_tell}</p>
      </Folded>
    </section>
  );
}
