import { Keyboard, Plus } from "lucide-react";
import { useParams } from "react-router";

import { useBench } from "../../api/bench";
import type { StringBench } from "../../api/client";
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
import { SomethingWrong } from "./SomethingWrong";
import { StopSign } from "./StopSign";
import { StringBoard } from "./StringBoard";
import { useBenchController } from "./useBenchController";
import { WhereFrom } from "./WhereFrom";

/** One instrument on the bench: its strings, the next move, what was entered. */
export function BenchScreen() {
  const { instrumentId = "" } = useParams();
  const bench = useBench(instrumentId);
  const controller = useBenchController(instrumentId, bench.data);
  if (bench.data === undefined || controller.string === null) {
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
  const rest = {
    plan: data.plan,
    current: controller.string.name,
    onChoose: controller.choose,
    onPure: () => {
      controller.changeSettings({ target: "pure" });
    },
  };
  return (
    <Shell
      compact
      tools={
        <>
          <InstrumentTitle instrument={data.instrument} />
          <HowWeTune
            bench={data}
            current={controller.string.name}
            onSettings={controller.changeSettings}
            onFittings={controller.changeFittings}
          />
          <Button
            onClick={controller.newTuning}
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
              controller.setKeysOpen(true);
            }}
          >
            <Keyboard size={20} />
          </Button>
        </>
      }
    >
      <main
        className="grid flex-1 grid-cols-[minmax(0,1fr)] gap-4 py-3 lg:grid-cols-[minmax(0,1.55fr)_minmax(0,1fr)]"
        {...controller.dropZone}
      >
        <div className="order-2 flex min-w-0 flex-col gap-4 lg:order-1">
          <div className="order-2 lg:order-1">
            <StringBoard
              strings={controller.strings}
              fifths={data.fifths}
              current={controller.string.name}
              live={controller.live}
              onChoose={controller.choose}
            />
          </div>
          <div className="order-1 flex flex-col gap-3 lg:order-2">
            <WhereFrom value={controller.from} onChange={controller.chooseFrom} />
            {(controller.from === "microphone" || controller.from === "simulated") && (
              <Listening {...controller.listening} simulated={controller.from === "simulated"} />
            )}
            {controller.from === "recording" && <Recordings {...controller.recordings} />}
            {controller.from === "simulated" && (
              <SimulatedPanel
                playing={controller.playing}
                choices={data.strings.map((each) => [each.name])}
                lit={litOf(controller.string)}
              />
            )}
            {controller.from !== "simulated" && (
              <Entry {...controller.entry} string={controller.string.name} onSide={controller.keepSide} />
            )}
            <ReferenceTone tone={controller.listening.tone} />
          </div>
          <div className="order-3 lg:hidden">
            <Rest {...rest} />
          </div>
          {controller.from !== "recording" && controller.recordings.lines.length > 0 && (
            <div className="order-4">
              <Recordings {...controller.recordings} />
            </div>
          )}
        </div>
        <div className="order-1 flex min-w-0 flex-col gap-4 lg:order-2 lg:self-start">
          {data.notice !== null && (
            <p role="alert" className="rounded-lg border-2 border-ink bg-lit p-3 text-lg font-bold">
              {data.notice}
            </p>
          )}
          <StopSign string={controller.string} live={controller.live} />
          <NextMove
            key={controller.string.name}
            bench={data}
            strings={data.strings}
            string={controller.string}
            onMoved={controller.keepMove}
            onAnswer={controller.answerQuestion}
            onNext={controller.goOn}
          />
          <div className="hidden lg:block">
            <Rest {...rest} />
          </div>
          <SomethingWrong bench={data} name={controller.string.name} onFittings={controller.changeFittings} />
        </div>
        <div className="order-3 lg:col-span-2">
          <History entries={data.history} onStrike={controller.strike} onRestore={controller.restore} />
        </div>
      </main>
      <KeysSheet
        open={controller.keysOpen}
        onClose={() => {
          controller.setKeysOpen(false);
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
