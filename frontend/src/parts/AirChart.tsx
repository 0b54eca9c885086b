import { Line, LineChart, ReferenceArea, ResponsiveContainer, Tooltip, XAxis, YAxis } from "recharts";

import { AXIS, TIME_AXIS } from "./chartLooks";
import { shortDay } from "./figures";

interface AirChartProps {
  points: { at: number; humidity: number }[];
  /** Per cent that wood likes, from and to. */
  comfortable: { low: number; high: number };
}

/** The room's humidity over time; the shaded band is comfortable for wood. */
export function AirChart({ points, comfortable }: AirChartProps) {
  return (
    <figure className="min-w-0">
      <figcaption className="flex items-baseline justify-between px-1">
        <b>Humidity of the room, %</b>
        <span className="text-sm text-pencil">shaded: comfortable for wood</span>
      </figcaption>
      <ResponsiveContainer width="100%" height={110}>
        <LineChart data={points} margin={{ top: 6, right: 14, bottom: 0, left: -18 }}>
          <ReferenceArea y1={comfortable.low} y2={comfortable.high} fill="var(--lit)" fillOpacity={1} />
          <XAxis {...TIME_AXIS} dataKey="at" domain={["dataMin", "dataMax"]} />
          <YAxis {...AXIS} domain={[20, 90]} ticks={[20, 40, 60, 80]} />
          <Line
            dataKey="humidity"
            stroke="var(--ink)"
            strokeWidth={1.5}
            dot={{ r: 1.8, fill: "var(--ink)" }}
            isAnimationActive={false}
          />
          <Tooltip
            content={({ active, payload }) => {
              const point = payload[0]?.payload as { at: number; humidity: number } | undefined;
              if (!active || point === undefined) return null;
              return (
                <p className="rounded-md border border-ink bg-sheet px-2 py-1 text-sm">
                  {shortDay(point.at)}: {point.humidity.toFixed(0)} %
                </p>
              );
            }}
          />
        </LineChart>
      </ResponsiveContainer>
    </figure>
  );
}
