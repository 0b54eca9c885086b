import { lazy } from "react";
import { Navigate } from "react-router";

import { useInstruments } from "../api/instruments";

const MorningScreen = lazy(async () => ({
  default: (await import("./morning/MorningScreen")).MorningScreen,
}));
const RollScreen = lazy(async () => ({ default: (await import("./roll/RollScreen")).RollScreen }));

/** Where a day begins: the morning; in a studio without an instrument yet, the roll. */
export function FirstScreen() {
  const instruments = useInstruments(true);
  if (instruments.data === undefined) return <MorningScreen />;
  return instruments.data.length === 0 ? <RollScreen /> : <Navigate to="/morning" replace />;
}
