import { useState } from "react";
import { Navigate } from "react-router";

import { useInstruments } from "../api/instruments";
import { lazyScreen } from "./lazyScreen";

const MorningScreen = lazyScreen(async () => (await import("./morning/MorningScreen")).MorningScreen);
const RollScreen = lazyScreen(async () => (await import("./roll/RollScreen")).RollScreen);

/** Where a day begins: the morning; in a studio without an instrument yet, the roll, until whoever adds one goes on from there. */
export function FirstScreen() {
  const instruments = useInstruments(true);
  const [roll, setRoll] = useState(false);
  if (instruments.data?.length === 0 && !roll) setRoll(true);
  if (roll) return <RollScreen />;
  return instruments.data === undefined ? <MorningScreen /> : <Navigate to="/morning" replace />;
}
