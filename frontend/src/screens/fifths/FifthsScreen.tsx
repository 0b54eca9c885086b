import { useParams } from "react-router";

import type { Fifths } from "../../api/fifths";
import { InstrumentShell } from "../../parts/InstrumentShell";
import { Shell } from "../../parts/Shell";
import { SimulatedPanel } from "../../parts/simulated/SimulatedPanel";
import { Trouble } from "../../parts/Trouble";
import { Unready } from "../../parts/Unready";
import { ChainPicture } from "./ChainPicture";
import { Checks } from "./Checks";
import { EnsembleTable } from "./EnsembleTable";
import { FifthChoice } from "./FifthChoice";
import { FifthListening } from "./FifthListening";
import { FifthPanel } from "./FifthPanel";
import { NextCorrection } from "./NextCorrection";
import { useFifthController } from "./useFifthController";
import { WidthOfFifths } from "./WidthOfFifths";

/** The fifths of one instrument: the chain as it stands, the move that mends most, every way to check. */
export function FifthsScreen() {
  const { instrumentId = "" } = useParams();
  const controller = useFifthController(instrumentId);
  const bench = controller.bench.data;
  const fifths = controller.fifths.data;
  if (bench === undefined || fifths === undefined || controller.link === null) {
    return (
      <Shell title="Fifths">
        <Unready query={bench === undefined ? controller.bench : controller.fifths} what="the fifths" />
      </Shell>
    );
  }
  return (
    <InstrumentShell instrument={bench.instrument} page="Fifths">
      <main
        id="content"
        tabIndex={-1}
        className="outline-none grid flex-1 grid-cols-[minmax(0,1fr)] gap-4 py-3 lg:grid-cols-[minmax(0,1.55fr)_minmax(0,1fr)] lg:grid-rows-[auto_1fr]"
        onDragOver={(event) => {
          event.preventDefault();
        }}
        onDrop={(event) => {
          event.preventDefault();
          controller.files([...event.dataTransfer.files]);
        }}
      >
        <div className="order-2 flex min-w-0 flex-col gap-4 lg:order-1 lg:row-span-2">
          <div>
            <ChainPicture fifths={fifths} chosen={controller.link.lower} />
            <FifthChoice fifths={fifths} chosen={controller.link.lower} onChoose={controller.choose} />
          </div>
          <FifthListening
            state={controller.listening.state}
            look={controller.listening.look}
            hearing={controller.hearing}
            simulated={controller.simulated}
            onSimulated={controller.toggleSimulated}
            onStart={() => void controller.listening.start()}
            onStop={controller.listening.stop}
            onFiles={controller.files}
          />
          {controller.simulated && (
            <SimulatedPanel
              playing={controller.playing}
              choices={fifths.links.map((each) => [each.lower, each.upper])}
              lit={litOf(fifths)}
            />
          )}
          <Trouble error={controller.error} />
          <FifthPanel fifths={fifths} link={controller.link} onCheck={controller.check} />
          <EnsembleTable fifths={fifths} />
        </div>
        <div className="order-1 min-w-0 lg:order-2">
          <NextCorrection fifths={fifths} bench={bench} onMoved={controller.moved} />
        </div>
        <div className="order-3 flex min-w-0 flex-col gap-4">
          <WidthOfFifths fifths={fifths} onWidth={controller.width} />
          <Checks checks={fifths.checks} onStrike={controller.strike} />
        </div>
      </main>
    </InstrumentShell>
  );
}

/** The knob that the next move turns. */
function litOf({ mend }: Fifths): { string: string; kind: "peg" | "screw" } | null {
  if (mend?.step?.amount == null) return null;
  return { string: mend.string, kind: mend.step.do === "turn-peg" ? "peg" : "screw" };
}
