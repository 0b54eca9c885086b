import { Navigate } from "react-router";

import { useInstruments } from "../api/instruments";
import { MorningScreen } from "./morning/MorningScreen";
import { RollScreen } from "./roll/RollScreen";

/** Where a day begins: the morning; in a studio without an instrument yet, the roll. */
export function FirstScreen() {
  const instruments = useInstruments(true);
  if (instruments.data === undefined) return <MorningScreen />;
  return instruments.data.length === 0 ? <RollScreen /> : <Navigate to="/morning" replace />;
}
