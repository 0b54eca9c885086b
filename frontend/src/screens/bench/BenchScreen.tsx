import { Keyboard, Plus } from "lucide-react";
import { useParams } from "react-router";

import { useBench } from "../../api/bench";
import type { StringBench } from "../../api/client";
import { useKinds } from "../../api/instruments";
import { Button } from "../../parts/Button";
import { InstrumentTitle } from "../../parts/InstrumentTitle";
import { Shell } from "../../parts/Shell";
import { SimulatedPanel } from "../../parts/simulated/SimulatedPanel";
import { Trouble } from "../../parts/Trouble";
import { Entry } from "./Entry";
import { History } from "./History";
import { HowWeTune } from "./HowWeTune";
import { KeysSheet } from "./KeysSheet";
import { Listening } from "./Listening";
import { NextMove } from "./NextMove";
import { Recordings } from "./Recordings";
import { ReferenceTone } from "./ReferenceTone";
import { Rest } from "./Rest";
import { StringBoard } from "./StringBoard";
import { useBenchHands } from "./useBenchHands";
import { WhereFrom } from "./WhereFrom";

/** One instrument on the bench: its strings, the next move, what was entered. */
export function BenchScreen() {
  const { instrumentId = "" } = useParams();
  const bench = useBench(instrumentId);
  const kinds = useKinds();
  const hands = useBenchHands(instrumentId, bench.data);
  if (bench.data === undefined || hands.string === null) {
    return (
      <Shell>
        <main className="py-8 text-xl">
          {bench.isError ? <Trouble error={bench.error} /> : "Fetching the instrument…"}
          {bench.failureCount > 0 && !bench.isError && <Trouble error={bench.failureReason} />}
        </main>
      </Shell>
    );
  }
  const { data } = bench;
  const stances = kinds.data?.find((each) => each.kind === data.instrument.kind)?.stances ?? [];
  return (
    <Shell
      compact
      tools={
        <>
          <InstrumentTitle instrument={data.instrument} />
          <HowWeTune
            bench={data}
            stances={stances}
            current={hands.string.name}
            onSettings={hands.changeSettings}
            onFittings={hands.changeFittings}
          />
          <Button
            onClick={hands.newTuning}
            aria-label="New tuning"
            title="Keep this tuning and begin the next"
          >
            <Plus size={18} aria-hidden /> <span className="hidden 2xl:inline">New tuning</span>
          </Button>
          <Button
            look="quiet"
            className="max-sm:hidden"
            aria-label="Keys"
            onClick={() => {
              hands.setKeysOpen(true);
            }}
          >
            <Keyboard size={20} />
          </Button>
        </>
      }
    >
      <main
        className="grid flex-1 grid-cols-[minmax(0,1fr)] gap-4 py-3 lg:grid-cols-[minmax(0,1.55fr)_minmax(0,1fr)]"
        {...hands.dropZone}
      >
        <div className="order-2 flex min-w-0 flex-col gap-4 lg:order-1">
          <div className="order-2 lg:order-1">
            <StringBoard
              strings={hands.asSeen}
              fifths={data.fifths}
              current={hands.string.name}
              live={hands.live}
              onChoose={hands.choose}
            />
          </div>
          <div className="order-1 flex flex-col gap-3 lg:order-2">
            <WhereFrom value={hands.from} onChange={hands.chooseFrom} />
            {(hands.from === "microphone" || hands.from === "simulated") && (
              <Listening {...hands.listening} simulated={hands.from === "simulated"} />
            )}
            {hands.from === "recording" && <Recordings {...hands.recordings} />}
            {hands.from === "simulated" && (
              <SimulatedPanel
                playing={hands.playing}
                choices={data.strings.map((each) => [each.name])}
                lit={litOf(hands.string)}
              />
            )}
            {hands.from !== "simulated" && <Entry {...hands.entry} string={hands.string.name} />}
            <ReferenceTone tone={hands.listening.tone} />
          </div>
          <div className="order-3 lg:hidden">
            <Rest plan={data.plan} current={hands.string.name} onChoose={hands.choose} />
          </div>
          {hands.from !== "recording" && hands.recordings.lines.length > 0 && (
            <div className="order-4">
              <Recordings {...hands.recordings} />
            </div>
          )}
        </div>
        <div className="order-1 flex min-w-0 flex-col gap-4 lg:sticky lg:top-3 lg:order-2 lg:self-start">
          <NextMove
            key={hands.string.name}
            bench={data}
            strings={data.strings}
            string={hands.string}
            onMoved={hands.keepMove}
            onSure={hands.keepSure}
            onNext={hands.goOn}
          />
          <div className="hidden lg:block">
            <Rest plan={data.plan} current={hands.string.name} onChoose={hands.choose} />
          </div>
        </div>
        <div className="order-3 lg:col-span-2">
          <History entries={data.history} onStrike={hands.strike} onRestore={hands.restore} />
        </div>
      </main>
      <KeysSheet
        open={hands.keysOpen}
        onClose={() => {
          hands.setKeysOpen(false);
        }}
      />
    </Shell>
  );
}

/** The knob that the next move turns. */
function litOf(string: StringBench): { string: string; kind: "peg" | "screw" } | null {
  const first = string.pending === null ? string.advice?.steps[0] : undefined;
  if (first === undefined || first.amount === null) return null;
  return { string: string.name, kind: first.do === "turn-peg" ? "peg" : "screw" };
}
