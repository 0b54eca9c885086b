import { shortDay } from "./figures";

/** What charts over time share. */
export const AXIS = {
  stroke: "var(--pencil)",
  tick: { fill: "var(--pencil)", fontSize: 13 },
  tickLine: false,
} as const;

export const TIME_AXIS = {
  ...AXIS,
  type: "number",
  scale: "time",
  tickCount: 4,
  minTickGap: 40,
  tickFormatter: shortDay,
} as const;
