import type { ReactNode } from "react";

import { AsLastSeen } from "./AsLastSeen";
import { NextMove } from "./NextMove";
import type { BenchInHand } from "./OnBench";
import { StopSign } from "./StopSign";

interface DoingProps extends BenchInHand {
  /** What stands between how old it is and what is to be done. */
  children?: ReactNode;
  /** What follows once the instrument is done. */
  after?: ReactNode;
  /** It is read from afar. */
  listening?: boolean;
}

/** What to do now, in every form of the bench: what is said of the whole instrument, a stop, the next move. */
export function Doing({ seenAt, bench, string, controller, children, after, listening }: DoingProps) {
  return (
    <>
      <AsLastSeen at={seenAt} />
      {children}
      {bench.notice !== null && (
        <p role="alert" className="rounded-lg border-2 border-ink bg-lit p-3 text-lg font-bold">
          {bench.notice}
        </p>
      )}
      <StopSign string={string} live={controller.live} />
      <NextMove bench={bench} string={string} controller={controller} after={after} listening={listening} />
    </>
  );
}
