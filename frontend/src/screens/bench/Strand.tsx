import type { StringBench } from "../../api/client";
import { signed } from "../../parts/figures";
import { BOARD_HEIGHT, heightOf, REST_Y } from "./boardScale";
import { Weight } from "./Weight";

interface StrandProps {
  string: StringBench;
  x: number;
  current: boolean;
  narrow: boolean;
  /** The rightmost one writes to its left: there is no room beside it. */
  last: boolean;
}

/** One strand, as thick as its gauge, with its weight, its figure, its word, and the ghost of the next move. */
export function Strand({ string, x, current, narrow, last }: StrandProps) {
  const off = string.advice?.cents_off ?? null;
  const settled = string.advice?.state === "in-tune";
  const y = off === null || settled ? REST_Y : REST_Y + heightOf(off);
  const voice = voiceOf(string);
  const dim = string.pending !== null;
  return (
    <g opacity={dim ? 0.55 : 1}>
      <line
        x1={x}
        x2={x}
        y1={0}
        y2={BOARD_HEIGHT - 58}
        stroke="var(--ink)"
        strokeWidth={1.5 + string.thickness * 5}
        opacity={0.75}
      />
      {string.ghost_cents !== null && off !== null && (
        <Ghost x={x} from={y} to={REST_Y + heightOf(string.ghost_cents)} />
      )}
      {off !== null && (
        <Weight
          x={x}
          y={y}
          side={settled ? "on" : off < 0 ? "below" : "above"}
          spread={string.reading?.spread_cents ?? 0}
          voice={voice}
        />
      )}
      <StrandFigure string={string} x={x} y={y} current={current} narrow={narrow} last={last} voice={voice} />
    </g>
  );
}

function voiceOf(string: StringBench): string {
  const off = string.advice?.cents_off ?? null;
  if (off === null || string.advice?.state === "in-tune") return "var(--ink)";
  return off < 0 ? "var(--below)" : "var(--above)";
}

function Ghost({ x, from, to }: { x: number; from: number; to: number }) {
  if (Math.abs(to - from) < 6) return null;
  const tip = to > from ? -7 : 7;
  return (
    <g stroke="var(--ink)" fill="none" strokeWidth={2} opacity={0.8}>
      <rect x={x - 20} y={to - 9} width={40} height={18} rx={4} strokeDasharray="4 4" />
      <path
        d={`M${String(x - 30)} ${String(from)} V${String(to)} m-5 ${String(tip)} l5 ${String(-tip)} l5 ${String(tip)}`}
      />
    </g>
  );
}

interface FigureProps extends StrandProps {
  y: number;
  voice: string;
}

function StrandFigure({ string, x, y, current, narrow, last, voice }: FigureProps) {
  const off = string.advice?.cents_off ?? null;
  const far = off !== null && Math.abs(off) > 100 ? string.advice?.candidates[0]?.note : undefined;
  const size = narrow ? 26 : current ? 46 : 32;
  const word = far === undefined ? string.words : `${far}, ${string.words}`;
  if (off === null) {
    return (
      <text
        x={x + (narrow ? 0 : last ? -16 : 16)}
        y={REST_Y - 14}
        textAnchor={narrow ? "middle" : last ? "end" : "start"}
        fontSize={narrow ? 14 : 17}
        fill="var(--pencil)"
        {...halo}
      >
        {string.words}
      </text>
    );
  }
  const above = off > 0 || string.advice?.state === "in-tune";
  const settled = string.advice?.state === "in-tune";
  // At the very bottom its word would run into the fifths.
  const lift = y > REST_Y + 100 ? 22 : 0;
  const base = narrow
    ? above || y > REST_Y + 70
      ? y - 46
      : y + 48
    : settled
      ? y - 48
      : y + size * 0.2 - lift;
  // On the line it stands above its weight: beside it, two neighbours' figures would meet.
  const middle = narrow || settled;
  const left = middle ? x : last ? x - 30 : x + 30;
  const anchor = middle ? "middle" : last ? "end" : "start";
  return (
    <g textAnchor={anchor} {...halo}>
      <text x={left} y={base} fontSize={size} fontWeight={700} fill={voice}>
        {signed(off)}
      </text>
      <text x={left} y={base + (narrow ? 18 : 22)} fontSize={narrow ? 14 : 17} fill="var(--ink)">
        {word}
      </text>
    </g>
  );
}

const halo = {
  stroke: "var(--sheet)",
  strokeWidth: 5,
  paintOrder: "stroke" as const,
  strokeLinejoin: "round" as const,
};
