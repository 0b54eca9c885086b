import { Shell } from "../../parts/Shell";
import { SimulatedPanel } from "../../parts/simulated/SimulatedPanel";
import { WaitingEntries } from "../../parts/WaitingEntries";
import { AsLastSeen } from "../bench/AsLastSeen";
import { useBeginsToListen } from "../bench/beginsToListen";
import { Enter } from "../bench/Enter";
import { LastDeed } from "../bench/LastDeed";
import { Listening } from "../bench/Listening";
import { FirstLook } from "../bench/FirstLook";
import { NextMove } from "../bench/NextMove";
import type { BenchInHand } from "../bench/OnBench";
import { OnBench } from "../bench/OnBench";
import { ReferenceTone } from "../bench/ReferenceTone";
import { SomethingWrong } from "../bench/SomethingWrong";
import { StopSign } from "../bench/StopSign";
import { StringStrip } from "../bench/StringStrip";
import { WhereFrom } from "../bench/WhereFrom";

/** The bench for someone who tunes for the first time: the string, what to do, and where it is well, an end. */
export function PlainBenchScreen() {
  return <OnBench title="One string after the other">{(inHand) => <Plain {...inHand} />}</OnBench>;
}

function Plain({ seenAt, bench, string, controller }: BenchInHand) {
  const { from, waits } = controller;
  const live = from === "microphone" || from === "simulated";
  const done = bench.strings.every((each) => each.advice?.state === "in-tune");
  const isHeard = bench.strings.some((each) => each.reading !== null);
  const whereFrom = <WhereFrom value={from} onChange={controller.chooseFrom} />;
  useBeginsToListen(controller.listening.onStart);
  return (
    <Shell title="One string after the other" keepsFocus>
      <main id="content" tabIndex={-1} className="flex max-w-3xl flex-col gap-4 py-4 outline-none">
        {done && <GoodEnough id={bench.instrument.id} />}
        <StringStrip
          strings={controller.strings}
          waits={waits}
          current={string.name}
          onChoose={controller.choose}
        />
        <p className="text-lg">
          Pluck the <b>{string.name}</b> string. {heardHow(from)}
        </p>
        {!isHeard && whereFrom}
        {live && (
          <Listening {...controller.listening} simulated={from === "simulated"} aloud={controller.aloud} />
        )}
        {from === "simulated" && (
          <SimulatedPanel
            playing={controller.playing}
            choices={bench.strings.map((each) => [each.name])}
            lit={null}
          />
        )}
        {live ? (
          <LastDeed {...controller.lastDeed} />
        ) : (
          <Enter from={from} string={string} controller={controller} />
        )}
        <WaitingEntries entries={controller.waiting} />
        <AsLastSeen at={seenAt} />
        {bench.notice !== null && (
          <p role="alert" className="rounded-lg border-2 border-ink bg-lit p-3 text-lg font-bold">
            {bench.notice}
          </p>
        )}
        <StopSign string={string} live={controller.live} />
        <NextMove bench={bench} string={string} controller={controller} />
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
        Play a little, then look again. New or slack strings stretch: tune it again tomorrow, and the day
        after. Loosen nothing before you put it away.
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
