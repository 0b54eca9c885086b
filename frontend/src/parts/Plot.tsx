import type { ReactNode } from "react";
import { useState } from "react";

import { shortDay } from "./figures";
import { useWidth } from "./useWidth";

const LEFT = 36;
const RIGHT = 14;
const TOP = 8;
const BOTTOM = 22;
const TICK_PX = 110;

interface PlotPoint {
  /** Milliseconds. */
  at: number;
  value: number;
}

interface PlotProps {
  points: PlotPoint[];
  /** The lowest and highest value drawn; what lies outside is drawn as an arrow at the edge. */
  range: readonly [number, number];
  ticks: readonly number[];
  said: (value: number) => string;
  height: number;
  colour: string;
  /** Where the time axis ends, if past the last point. */
  until?: number | undefined;
  /** A shaded band of values. */
  band?: readonly [number, number] | undefined;
  /** A line across, at a value. */
  rest?: number | undefined;
  /** Moments marked by an upright line. */
  marks?: { key: string; at: number; said: string }[];
  /** A value to come, with its ±. */
  told?: { at: number; value: number; plusMinus: number } | undefined;
}

/** Values over time. A pointer, or the arrow keys, tell the nearest point. */
export function Plot(props: PlotProps) {
  const { points, range, height, until, marks = [], told } = props;
  const { ref, width } = useWidth<HTMLDivElement>(400);
  const [near, setNear] = useState<number | null>(null);
  const first = points[0]?.at ?? 0;
  const last = Math.max(until ?? 0, points.at(-1)?.at ?? 1);
  const x = (at: number) => LEFT + ((at - first) / Math.max(1, last - first)) * (width - LEFT - RIGHT);
  const inside = (value: number) => Math.min(range[1], Math.max(range[0], value));
  const y = (value: number) => TOP + ((range[1] - inside(value)) / (range[1] - range[0])) * (height - TOP - BOTTOM);
  const shown = near === null ? undefined : points[near];
  const nearest = (px: number) => {
    let best = 0;
    for (const [place, each] of points.entries()) {
      if (Math.abs(x(each.at) - px) < Math.abs(x(points[best]?.at ?? 0) - px)) best = place;
    }
    return best;
  };
  return (
    <div
      ref={ref}
      className="relative overflow-x-clip contain-inline-size"
      tabIndex={0}
      role="img"
      aria-label={points
        .map((each) => `${shortDay(each.at)} ${props.said(each.value)}`)
        .slice(-12)
        .join(", ")}
      onPointerMove={(event) => {
        setNear(nearest(event.clientX - event.currentTarget.getBoundingClientRect().left));
      }}
      onPointerLeave={() => {
        setNear(null);
      }}
      onKeyDown={(event) => {
        const by = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
        if (by === undefined) return;
        event.preventDefault();
        setNear(Math.min(points.length - 1, Math.max(0, (near ?? points.length - 1) + by)));
      }}
    >
      <svg width={width} height={height} className="block" aria-hidden>
        <Ground {...props} x={x} y={y} width={width} first={first} last={last} />
        {marks.map((mark) => (
          <g key={mark.key} stroke="var(--above)" fill="var(--above)">
            <line x1={x(mark.at)} x2={x(mark.at)} y1={TOP} y2={height - BOTTOM} strokeWidth={2} strokeDasharray="5 4" />
            <text x={x(mark.at) + 4} y={TOP + 10} fontSize={13} stroke="none">
              {mark.said}
            </text>
          </g>
        ))}
        <polyline
          points={points.map((each) => `${x(each.at).toFixed(1)},${y(each.value).toFixed(1)}`).join(" ")}
          fill="none"
          stroke={props.colour}
          strokeWidth={1.5}
        />
        {points.map((each) => (
          <Mark key={each.at} x={x(each.at)} y={y(each.value)} beyond={each.value - inside(each.value)} fill={props.colour} />
        ))}
        {told !== undefined && (
          <g stroke="var(--ink)" strokeWidth={2}>
            <line x1={x(told.at)} x2={x(told.at)} y1={y(told.value + told.plusMinus)} y2={y(told.value - told.plusMinus)} />
            <circle cx={x(told.at)} cy={y(told.value)} r={4} fill="var(--ink)" stroke="none" />
          </g>
        )}
      </svg>
      {shown !== undefined && (
        <p
          role="status"
          className="pointer-events-none absolute top-1 rounded-md border border-ink bg-sheet px-2 py-1 text-sm whitespace-nowrap"
          style={x(shown.at) > width / 2 ? { right: width - x(shown.at) + 8 } : { left: x(shown.at) + 8 }}
        >
          {shortDay(shown.at)}: {props.said(shown.value)}
        </p>
      )}
    </div>
  );
}

interface GroundProps extends PlotProps {
  x: (at: number) => number;
  y: (value: number) => number;
  width: number;
  first: number;
  last: number;
}

/** What the points lie on: the band, the lines of the values, the days. */
function Ground({ x, y, width, first, last, height, band, ticks, rest, said }: GroundProps): ReactNode {
  const days = Math.max(2, Math.floor((width - LEFT - RIGHT) / TICK_PX));
  const moments = Array.from({ length: days }, (_, place) => first + ((last - first) * place) / (days - 1));
  return (
    <>
      {band !== undefined && (
        <rect
          x={LEFT}
          width={Math.max(0, width - LEFT - RIGHT)}
          y={y(band[1])}
          height={y(band[0]) - y(band[1])}
          fill="var(--lit)"
        />
      )}
      {ticks.map((tick) => (
        <g key={tick}>
          <line x1={LEFT} x2={width - RIGHT} y1={y(tick)} y2={y(tick)} stroke="var(--rule)" />
          <text x={LEFT - 5} y={y(tick) + 4} fontSize={13} textAnchor="end" fill="var(--pencil)">
            {said(tick).replace(/ .*/, "")}
          </text>
        </g>
      ))}
      {rest !== undefined && (
        <line x1={LEFT} x2={width - RIGHT} y1={y(rest)} y2={y(rest)} stroke="var(--ink)" strokeWidth={1.5} />
      )}
      {moments.map((moment, place) => (
        <text
          key={moment}
          x={x(moment)}
          y={height - 6}
          fontSize={13}
          fill="var(--pencil)"
          textAnchor={place === 0 ? "start" : place === days - 1 ? "end" : "middle"}
        >
          {shortDay(moment)}
        </text>
      ))}
    </>
  );
}

/** A dot; an arrow for what lies outside the picture. */
function Mark({ x, y, beyond, fill }: { x: number; y: number; beyond: number; fill: string }) {
  if (beyond === 0) return <circle cx={x} cy={y} r={2.2} fill={fill} />;
  const tip = beyond < 0 ? y + 1 : y - 1;
  const base = beyond < 0 ? y - 7 : y + 7;
  return <path d={`M${String(x)} ${String(tip)}L${String(x - 4)} ${String(base)}H${String(x + 4)}Z`} fill={fill} />;
}
