import type { StringBench } from "../../api/client";
import { countOf } from "../../parts/figures";

/** How far the fine tuner's screw stands from the middle of its travel: out to the left, in to the right. */
export function ScrewGauge({ string }: { string: StringBench }) {
  const screw = string.fine_tuner;
  if (screw === null) {
    return <div className="flex items-center justify-center px-1 py-1.5 text-center text-sm text-pencil">no fine tuner</div>;
  }
  const share = screw.turns_from_middle / screw.reach_turns;
  const nearEnd = screw.is_seen && screw.near_end;
  const turns = Math.round(10 * Math.abs(screw.turns_from_middle)) / 10;
  const place = turns === 0 ? "at its middle" : `${countOf(turns, "turn")} ${share > 0 ? "in" : "out"}`;
  const words = screw.is_seen ? place : "not looked at";
  return (
    <div className="flex flex-col items-center px-1 py-1.5" title="Where the fine tuner stands in its travel">
      <svg viewBox="0 0 100 14" className="h-3.5 w-4/5 max-w-36" aria-hidden>
        <line
          x1={6}
          x2={94}
          y1={7}
          y2={7}
          stroke="var(--rule)"
          strokeWidth={4}
          strokeLinecap="round"
          strokeDasharray={screw.is_seen ? undefined : "2 8"}
        />
        <line x1={50} x2={50} y1={1} y2={13} stroke="var(--pencil)" strokeWidth={1.5} />
        <rect
          x={47 + share * 44}
          y={0.5}
          width={6}
          height={13}
          rx={2}
          fill={!screw.is_seen ? "none" : nearEnd ? "var(--above)" : "var(--ink)"}
          stroke={screw.is_seen ? "none" : "var(--pencil)"}
          strokeDasharray={screw.is_seen ? undefined : "3 2"}
        />
      </svg>
      <span className={`text-sm ${nearEnd ? "font-bold text-above" : "text-pencil"}`}>
        {words}
        {nearEnd && ": near its end"}
      </span>
    </div>
  );
}
