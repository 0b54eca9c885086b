import { Shell } from "../../parts/Shell";
import { SimulatedPanel } from "../../parts/simulated/SimulatedPanel";
import { WaitingEntries } from "../../parts/WaitingEntries";
import { useBeginsToListen } from "./beginsToListen";
import { Doing } from "./Doing";
import { Enter } from "./Enter";
import { LastDeed } from "./LastDeed";
import { Listening } from "./Listening";
import { FirstLook } from "./FirstLook";
import { Forms } from "./Forms";
import type { BenchInHand } from "./OnBench";
import { OnBench } from "./OnBench";
import { ReferenceTone } from "./ReferenceTone";
import { SomethingWrong } from "./SomethingWrong";
import { StringStrip } from "./StringStrip";
import { WhereFrom } from "./WhereFrom";

/** The bench for someone who tunes for the first time: the string, what to do, and where it is well, an end. */
export function PlainBench() {
  return <OnBench title="String by string">{(inHand) => <Plain {...inHand} />}</OnBench>;
}

function Plain(inHand: BenchInHand) {
  const { bench, string, controller } = inHand;
  const { from, waits } = controller;
  const live = from === "microphone" || from === "simulated";
  const done = bench.strings.every((each) => each.advice?.state === "in-tune");
  const isHeard = bench.strings.some((each) => each.reading !== null);
  const whereFrom = <WhereFrom value={from} onChange={controller.chooseFrom} />;
  useBeginsToListen(controller.listening.onStart);
  return (
    <Shell
      title={`${bench.instrument.label}: string by string`}
      keepsFocus
      more={<Forms here="plain" id={bench.instrument.id} />}
    >
      <main id="content" tabIndex={-1} className="flex max-w-3xl flex-col gap-4 py-4 outline-none">
        {done && <GoodEnough id={bench.instrument.id} />}
        <StringStrip strings={controller.strings} waits={waits} current={string.name} onChoose={controller.choose} />
        <p className="text-lg">
          Pluck the <b>{string.name}</b> string. {heardHow(from)}
        </p>
        {!isHeard && whereFrom}
        {live && <Listening {...controller.listening} simulated={from === "simulated"} aloud={controller.aloud} />}
        {from === "simulated" && (
          <SimulatedPanel playing={controller.playing} choices={bench.strings.map((each) => [each.name])} lit={null} />
        )}
        {live ? <LastDeed {...controller.lastDeed} /> : <Enter from={from} string={string} controller={controller} />}
        <WaitingEntries entries={controller.waiting} />
        <Doing {...inHand} />
        {from !== "ear" && <ReferenceTone tone={controller.listening.tone} />}
        <FirstLook bench={bench} onFittings={controller.changeFittings} />
        <SomethingWrong bench={bench} name={string.name} onFittings={controller.changeFittings} />
        {isHeard && whereFrom}
      </main>
    </Shell>
  );
}

function heardHow(from: string): string {
  if (from === "microphone") return "This device listens and says where it is.";
  if (from === "simulated") return "It is a made-up instrument here, to try it out.";
  if (from === "tuner") return "Type what your tuner shows, or let this device listen (below).";
  if (from === "ear") return "A tone sounds, and you say whether the string is lower or higher.";
  return "Press what your tuner shows.";
}

/** The end: good enough for today, and what comes after. */
function GoodEnough({ id }: { id: string }) {
  return (
    <section aria-label="Good enough" className="rounded-lg border-2 border-ink bg-lit p-4">
      <h2 className="text-3xl font-bold">Good enough: all its strings are in tune.</h2>
      <p className="mt-1 text-lg">
        Play a little, then look again. New or slack strings stretch: tune it again tomorrow, and the day after. Loosen nothing
        before you put it away.
      </p>
      <p className="mt-3 flex flex-wrap gap-2">
        <a
          href={`/api/instruments/${id}/home-card.pdf`}
          target="_blank"
          rel="noreferrer"
          className="inline-flex min-h-12 items-center rounded-md border border-ink bg-ink px-4 text-lg font-bold text-paper"
        >
          A card for home, to print
        </a>
        <a
          href={`/api/instruments/${id}/told.pdf`}
          target="_blank"
          rel="noreferrer"
          className="inline-flex min-h-12 items-center rounded-md border border-ink/60 bg-sheet px-4 text-lg"
        >
          How it stands, for a teacher or luthier
        </a>
      </p>
    </section>
  );
}
