import { useParams } from "react-router";

import type { Fifths } from "../../api/fifths";
import { InstrumentTitle } from "../../parts/InstrumentTitle";
import { Shell } from "../../parts/Shell";
import { SimulatedPanel } from "../../parts/simulated/SimulatedPanel";
import { Trouble } from "../../parts/Trouble";
import { ChainPicture } from "./ChainPicture";
import { Checks } from "./Checks";
import { EnsembleTable } from "./EnsembleTable";
import { FifthChoice } from "./FifthChoice";
import { FifthListening } from "./FifthListening";
import { FifthPanel } from "./FifthPanel";
import { NextMend } from "./NextMend";
import { School } from "./School";
import { useFifthHands } from "./useFifthHands";

/** The fifths of one instrument: the chain as it stands, the move that mends most, every way to check. */
export function FifthsScreen() {
  const { instrumentId = "" } = useParams();
  const hands = useFifthHands(instrumentId);
  const bench = hands.bench.data;
  const fifths = hands.fifths.data;
  if (bench === undefined || fifths === undefined || hands.link === null) {
    return (
      <Shell>
        <main className="py-8 text-xl">
          {hands.bench.isError || hands.fifths.isError ? (
            <Trouble error={hands.bench.error ?? hands.fifths.error} />
          ) : (
            "Fetching the fifths…"
          )}
        </main>
      </Shell>
    );
  }
  return (
    <Shell compact tools={<InstrumentTitle instrument={bench.instrument} />}>
      <main
        className="grid flex-1 grid-cols-[minmax(0,1fr)] gap-4 py-3 lg:grid-cols-[minmax(0,1.55fr)_minmax(0,1fr)] lg:grid-rows-[auto_1fr]"
        onDragOver={(event) => {
          event.preventDefault();
        }}
        onDrop={(event) => {
          event.preventDefault();
          hands.files([...event.dataTransfer.files]);
        }}
      >
        <div className="order-2 flex min-w-0 flex-col gap-4 lg:order-1 lg:row-span-2">
          <div>
            <ChainPicture fifths={fifths} chosen={hands.link.lower} />
            <FifthChoice fifths={fifths} chosen={hands.link.lower} onChoose={hands.choose} />
          </div>
          <FifthListening
            state={hands.listening.state}
            look={hands.listening.look}
            hearing={hands.hearing}
            simulated={hands.simulated}
            onSimulated={hands.toggleSimulated}
            onStart={() => void hands.listening.start()}
            onStop={hands.listening.stop}
            onFiles={hands.files}
          />
          {hands.simulated && (
            <SimulatedPanel
              playing={hands.playing}
              choices={fifths.links.map((each) => [each.lower, each.upper])}
              lit={litOf(fifths)}
            />
          )}
          <Trouble error={hands.error} />
          <FifthPanel fifths={fifths} link={hands.link} onCheck={hands.check} />
          <EnsembleTable fifths={fifths} />
        </div>
        <div className="order-1 min-w-0 lg:order-2">
          <NextMend fifths={fifths} bench={bench} onMoved={hands.moved} />
        </div>
        <div className="order-3 flex min-w-0 flex-col gap-4">
          <School fifths={fifths} onWidth={hands.width} />
          <Checks checks={fifths.checks} onStrike={hands.strike} />
        </div>
      </main>
    </Shell>
  );
}

/** The knob that the next move turns. */
function litOf({ mend }: Fifths): { string: string; kind: "peg" | "screw" } | null {
  if (mend?.step?.amount == null) return null;
  return { string: mend.string, kind: mend.step.do === "turn-peg" ? "peg" : "screw" };
}
