import { Plot } from "./Plot";

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
      <Plot
        points={points.map(({ at, humidity }) => ({ at, value: humidity }))}
        range={[20, 90]}
        ticks={[20, 40, 60, 80]}
        band={[comfortable.low, comfortable.high]}
        said={(value) => `${value.toFixed(0)} %`}
        height={110}
        colour="var(--ink)"
      />
    </figure>
  );
}
