import type { ReactNode } from "react";
import { useParams } from "react-router";

import { useBench } from "../../api/bench";
import type { Bench, StringBench } from "../../api/client";
import { Shell } from "../../parts/Shell";
import { Unready } from "../../parts/Unready";
import { useBenchController } from "./useBenchController";

/** What every form of the bench works with. */
export interface BenchInHand {
  /** When the server last told of it, in ms. */
  seenAt: number;
  bench: Bench;
  string: StringBench;
  controller: ReturnType<typeof useBenchController>;
}

/** The instrument of this address on its bench; `title` until it has come. */
export function OnBench({ title, children }: { title: string; children: (inHand: BenchInHand) => ReactNode }) {
  const { instrumentId = "" } = useParams();
  const bench = useBench(instrumentId);
  const controller = useBenchController(instrumentId, bench.data);
  if (bench.data === undefined || controller.string === null) {
    return (
      <Shell title={title}>
        <Unready query={bench} what="the instrument" />
      </Shell>
    );
  }
  return children({ seenAt: bench.dataUpdatedAt, bench: bench.data, string: controller.string, controller });
}
