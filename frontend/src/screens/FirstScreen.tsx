import { useState } from "react";
import { Navigate } from "react-router";

import { useMe } from "../api/device";
import { useInstruments } from "../api/instruments";
import { Shell } from "../parts/Shell";
import { lazyScreen } from "./lazyScreen";

const MorningScreen = lazyScreen(async () => (await import("./morning/MorningScreen")).MorningScreen);
const RollScreen = lazyScreen(async () => (await import("./roll/RollScreen")).RollScreen);

/** So few instruments are nobody's class: their bench is where a day begins. */
const FEW = 2;

/**
 * Where a day begins: the morning; in a studio of one or two, the bench of the one tuned last; in one without an instrument yet, the
 * roll, until whoever adds one goes on from there.
 */
export function FirstScreen() {
  const me = useMe().data;
  if (me?.reaches_all === false) return <Own instruments={me.instruments} name={me.name} />;
  if (me?.role === "helper") return <Navigate to="/mine" replace />;
  return <Whole />;
}

/** A student's device: their own instrument, at once. */
function Own({ instruments, name }: { instruments: string[]; name: string }) {
  const [first] = instruments;
  if (first !== undefined) return <Navigate to={`/bench/${first}`} replace />;
  return (
    <Shell title="No instrument yet">
      <main id="content" tabIndex={-1} className="max-w-xl py-6 text-lg outline-none">
        <p>
          {name}, no instrument is written down as yours yet. Ask a teacher to do that on the roll; it opens here by itself
          then.
        </p>
      </main>
    </Shell>
  );
}

function Whole() {
  const instruments = useInstruments(true);
  const [roll, setRoll] = useState(false);
  if (instruments.data?.length === 0 && !roll) setRoll(true);
  if (roll) return <RollScreen />;
  if (instruments.data === undefined) return <MorningScreen />;
  const inUse = instruments.data.filter(({ retired }) => !retired);
  const [last] = [...inUse].sort((one, other) => (other.last_tuned ?? "").localeCompare(one.last_tuned ?? ""));
  const few = last !== undefined && inUse.length <= FEW;
  return <Navigate to={few ? `/bench/${last.id}` : "/morning"} replace />;
}
