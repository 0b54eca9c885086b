import type { FifthBench } from "../../api/client";
import { signed } from "../../parts/figures";
import { BOARD_HEIGHT } from "../../parts/board/boardScale";

interface FifthSpanProps {
  fifth: FifthBench;
  from: number;
  to: number;
  narrow: boolean;
}

/** The fifth between two neighbours: its width against the chosen school, its beats, pulsing at their rate. */
export function FifthSpan({ fifth, from, to, narrow }: FifthSpanProps) {
  const middle = (from + to) / 2;
  const y = BOARD_HEIGHT - 44;
  const off = fifth.from_temperament_cents;
  const beats = fifth.beats_hz;
  const beating = beats !== null && beats > 0.05 && beats < 12;
  const label = off === null ? "fifth" : Math.abs(off) < 0.05 ? "fifth right" : `${signed(off)} ${off > 0 ? "wide" : "narrow"}`;
  return (
    <g>
      <path
        d={`M${String(from + 8)} ${String(y - 8)} v8 H${String(to - 8)} v-8`}
        fill="none"
        stroke="var(--pencil)"
        strokeWidth={1.5}
      />
      <circle
        cx={middle}
        cy={y}
        r={6}
        fill={beats === null ? "var(--sheet)" : "var(--ink)"}
        stroke="var(--pencil)"
        strokeWidth={1.5}
        style={beating ? { animation: `beat ${String(1 / beats)}s ease-in-out infinite` } : undefined}
      />
      <text x={middle} y={y + 21} textAnchor="middle" fontSize={narrow ? 13 : 15} fill="var(--ink)">
        {label}
      </text>
      {!narrow && fifth.beats_said !== null && (
        <text x={middle} y={y + 38} textAnchor="middle" fontSize={14} fill="var(--pencil)">
          {fifth.beats_said}
        </text>
      )}
    </g>
  );
}
