import { ArrowDownUp } from "lucide-react";
import { useEffect, useEffectEvent, useState } from "react";
import { Link } from "react-router";

import { Button } from "../../parts/Button";
import { Folded } from "../../parts/Folded";
import { MORE_ENTRY } from "../../parts/More";
import { Shell } from "../../parts/Shell";
import { Alongside } from "../bench/Alongside";
import { Enter } from "../bench/Enter";
import { LastDeed } from "../bench/LastDeed";
import { NextMove } from "../bench/NextMove";
import type { BenchInHand } from "../bench/OnBench";
import { OnBench } from "../bench/OnBench";
import { fieldsOf } from "../bench/Pads";
import { SomethingWrong } from "../bench/SomethingWrong";
import { StringStrip } from "../bench/StringStrip";
import { ToneButton } from "../bench/ToneButton";

/** One plays and says what it is, the other turns: one screen between them, or the same bench on two. */
export function TwoScreen() {
  return <OnBench title="Two people">{(inHand) => <Between {...inHand} />}</OnBench>;
}

function Between({ bench, string, controller }: BenchInHand) {
  const { from, waits, chooseFrom } = controller;
  const [round, setRound] = useState(false);
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
      }
      more={
        <Link to={`/bench/${bench.instrument.id}`} className={MORE_ENTRY}>
          Alone at the bench
        </Link>
      }
    >
      <main
        id="content"
        tabIndex={-1}
        className="grid flex-1 grid-cols-[minmax(0,1fr)] content-start gap-4 py-3 outline-none lg:grid-cols-2"
      >
        <div className={`flex min-w-0 flex-col gap-3 ${round ? "max-lg:rotate-180" : ""}`}>
          <h2 className="text-lg font-bold text-pencil">Whoever turns</h2>
          <NextMove
            bench={bench}
            strings={bench.strings}
            string={string}
            waits={controller.waiting.length > 0 ? waits[string.name] : undefined}
            listening
            byEar={from === "ear"}
            live={controller.live}
            tone={controller.listening.tone}
            onMoved={controller.keepMove}
            onAnswer={controller.answerQuestion}
            onNext={controller.goOn}
          />
        </div>
        <div className="flex min-w-0 flex-col gap-3">
          <h2 className="text-lg font-bold text-pencil">Whoever plays: the {string.name}, long and soft</h2>
          <StringStrip
            strings={controller.strings}
            waits={waits}
            current={string.name}
            onChoose={controller.choose}
          />
          {from === "ear" ? (
            <>
              <Player string={string} controller={controller} />
              <LastDeed {...controller.lastDeed} />
            </>
          ) : (
            <Enter from={from} string={string} controller={controller} />
          )}
          <SomethingWrong bench={bench} name={string.name} onFittings={controller.changeFittings} />
          <p className="text-pencil">
            Where the other has a device of their own, open this instrument there too: what is said here
            stands there at once.
          </p>
        </div>
      </main>
    </Shell>
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
