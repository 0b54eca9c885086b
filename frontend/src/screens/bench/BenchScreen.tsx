import { Keyboard, Plus } from "lucide-react";
import { Link } from "react-router";

import type { StringBench } from "../../api/client";
import { Button } from "../../parts/Button";
import { Folded } from "../../parts/Folded";
import { InstrumentShell } from "../../parts/InstrumentShell";
import { MORE_ENTRY } from "../../parts/More";
import { NextInstrument } from "../../parts/NextInstrument";
import { SimulatedPanel } from "../../parts/simulated/SimulatedPanel";
import { WaitingEntries } from "../../parts/WaitingEntries";
import { Doing } from "./Doing";
import { Enter } from "./Enter";
import { History } from "./History";
import { LastDeed } from "./LastDeed";
import { HowWeTune } from "./HowWeTune";
import { KeysSheet } from "./KeysSheet";
import { Listening } from "./Listening";
import { FirstLook } from "./FirstLook";
import { Forms } from "./Forms";
import { NewTuning } from "./NewTuning";
import type { BenchInHand } from "./OnBench";
import { OnBench } from "./OnBench";
import { Recordings } from "./Recordings";
import { ReferenceTone } from "./ReferenceTone";
import { Rest } from "./Rest";
import { SomethingWrong } from "./SomethingWrong";
import { StringBoard } from "./StringBoard";
import { StringStrip } from "./StringStrip";
import { WhereFrom } from "./WhereFrom";

/** One instrument on the bench: its strings, the next move, what was entered. */
export function BenchScreen() {
  return <OnBench title="Bench">{(inHand) => <Laid {...inHand} />}</OnBench>;
}

/**
 * Everything in its place. Wide: board and line to the left, the next move to the right. Narrow, in one column: strings, line,
 * next move, and then the rest, so that the line stays where it is.
 */
function Laid(inHand: BenchInHand) {
  const { bench, string, controller } = inHand;
  const { waits, from } = controller;
  const live = from === "microphone" || from === "simulated";
  return (
    <InstrumentShell
      instrument={bench.instrument}
      page="Strings"
      keepsFocus
      tools={
        <>
          <HowWeTune
            bench={bench}
            current={string.name}
            onSettings={controller.changeSettings}
            onFittings={controller.changeFittings}
          />
          <Button
            className="shrink-0 max-2xl:hidden"
            title="Keep this tuning and begin the next"
            onClick={controller.newTuning}
          >
            <Plus size={18} aria-hidden /> New tuning
          </Button>
        </>
      }
      more={
        <>
          <button type="button" className={`${MORE_ENTRY} 2xl:hidden`} onClick={controller.newTuning}>
            <Plus size={18} aria-hidden /> New tuning
          </button>
          <Forms here="bench" id={bench.instrument.id} />
          <button
            type="button"
            className={MORE_ENTRY}
            onClick={() => {
              controller.setKeysOpen(true);
            }}
          >
            <Keyboard size={18} aria-hidden /> Keys
          </button>
        </>
      }
    >
      <main
        id="content"
        tabIndex={-1}
        className="flex flex-1 flex-col gap-3 py-3 outline-none lg:grid lg:grid-cols-[minmax(0,1.55fr)_minmax(0,1fr)] lg:gap-4"
        {...controller.dropZone}
      >
        <div className="contents lg:flex lg:min-w-0 lg:flex-col lg:gap-4">
          <div className="lg:hidden">
            <StringStrip strings={controller.strings} waits={waits} current={string.name} onChoose={controller.choose} />
          </div>
          <Folded narrow title="All strings and their fifths" className="order-4 lg:order-none">
            <StringBoard
              strings={controller.strings}
              fifths={bench.fifths}
              waits={waits}
              current={string.name}
              live={controller.live}
              onChoose={controller.choose}
            />
          </Folded>
          <div className="order-3 lg:order-1">
            <WhereFrom value={from} onChange={controller.chooseFrom} />
          </div>
          {live && (
            <div className="order-1 lg:order-none print:hidden">
              <Listening {...controller.listening} simulated={from === "simulated"} aloud={controller.aloud} />
            </div>
          )}
          <div
            className={`flex flex-col gap-3 empty:hidden lg:order-none print:hidden ${controller.isListening ? "order-3" : "order-1"}`}
          >
            {from === "recording" && <Recordings {...controller.recordings} />}
            {from === "simulated" && (
              <SimulatedPanel
                playing={controller.playing}
                choices={bench.strings.map((each) => [each.name])}
                lit={litOf(string)}
              />
            )}
            {from !== "simulated" && <Enter from={from} string={string} controller={controller} />}
            {from === "simulated" && <LastDeed {...controller.lastDeed} />}
            <WaitingEntries entries={controller.waiting} />
          </div>
          <div className="order-5 flex flex-col gap-3 lg:order-2 print:hidden">
            {from !== "ear" && <ReferenceTone tone={controller.listening.tone} />}
            {from !== "recording" && controller.recordings.lines.length > 0 && <Recordings {...controller.recordings} />}
          </div>
        </div>
        <div className="contents lg:flex lg:min-w-0 lg:flex-col lg:gap-4 lg:self-start">
          <div className="order-2 flex flex-col gap-3 lg:order-none">
            <Doing {...inHand} after={<NextInstrument current={bench.instrument.id} isMain />}>
              {bench.instrument.retired && (
                <p role="status" className="rounded-md border-2 border-ink bg-lit px-3 py-2">
                  <b>{bench.instrument.label} is no longer in use.</b> What is entered is kept; it can be taken back into use on
                  the{" "}
                  <Link to="/roll" className="font-bold underline underline-offset-4">
                    roll
                  </Link>
                  .
                </p>
              )}
              <NewTuning bench={bench} onBack={controller.backToBefore} />
            </Doing>
          </div>
          <div className="order-5 flex flex-col gap-3 lg:order-none lg:gap-4">
            <FirstLook bench={bench} onFittings={controller.changeFittings} />
            <Folded narrow title="The rest of the round">
              <Rest
                plan={bench.plan}
                current={string.name}
                onChoose={controller.choose}
                onPure={() => {
                  controller.changeSettings({ target: "pure" });
                }}
              />
            </Folded>
          </div>
          <div className="order-5 lg:order-none print:hidden">
            <SomethingWrong bench={bench} name={string.name} onFittings={controller.changeFittings} />
          </div>
        </div>
        <div className="order-6 lg:order-none lg:col-span-2">
          <History entries={bench.history} onStrike={controller.strike} onRestore={controller.restore} />
        </div>
      </main>
      <KeysSheet
        open={controller.keysOpen}
        onClose={() => {
          controller.setKeysOpen(false);
        }}
      />
    </InstrumentShell>
  );
}

/** The knob that the next move turns. */
function litOf(string: StringBench): { string: string; kind: "peg" | "screw" } | null {
  const first = string.pending === null ? string.advice?.steps[0] : undefined;
  if (first === undefined || first.amount === null) return null;
  return { string: string.name, kind: first.do === "turn-peg" ? "peg" : "screw" };
}
