import type { StringBench } from "../../api/client";
import { signed } from "../../parts/figures";
import { BOARD_HEIGHT, heightOf, REST_Y } from "../../parts/board/boardScale";
import type { Waits } from "./waits";
import { Weight } from "../../parts/board/Weight";

interface StrandProps {
  string: StringBench;
  /** What was entered of it and isn't answered yet: it is shown at once. */
  waits: Waits | undefined;
  x: number;
  current: boolean;
  narrow: boolean;
  /** The rightmost one writes to its left: there is no room beside it. */
  last: boolean;
}

/** One strand, as thick as its gauge, with its weight, its figure, its word, and the ghost of the next move. */
export function Strand({ string, waits, x, current, narrow, last }: StrandProps) {
  const off = waits === undefined ? (string.advice?.cents_off ?? null) : waits.cents;
  const settled = waits === undefined ? string.advice?.state === "in-tune" : waits.settles;
  const y = off === null || settled ? REST_Y : REST_Y + heightOf(off);
  const voice = voiceOf(off, settled);
  const dim = string.is_outdated && waits === undefined;
  const place = off === null ? null : figurePlace({ off, settled, x, y, current, narrow, last });
  return (
    <g opacity={dim ? 0.55 : 1}>
      {pieces(place).map(([from, to]) => (
        <line
          key={from}
          x1={x}
          x2={x}
          y1={from}
          y2={to}
          stroke="var(--ink)"
          strokeWidth={1.5 + string.thickness * 5}
          opacity={0.75}
        />
      ))}
      {string.ghost_cents !== null && off !== null && waits === undefined && (
        <Ghost x={x} from={y} to={REST_Y + heightOf(string.ghost_cents)} arrow={last && !narrow ? 30 : -30} />
      )}
      {off !== null && (
        <Weight
          x={x}
          y={y}
          side={settled ? "on" : off < 0 ? "below" : "above"}
          spread={waits === undefined ? (string.reading?.spread_cents ?? 0) : 0}
          voice={voice}
        />
      )}
      {place === null ? (
        <NotHeard word={waits?.text ?? string.words} x={x} narrow={narrow} />
      ) : (
        <StrandFigure
          shown={(waits === undefined ? string.letter : null) ?? signed(off ?? 0)}
          word={wordOf(string, waits)}
          {...{ place, narrow, voice }}
        />
      )}
    </g>
  );
}

function wordOf(string: StringBench, waits: Waits | undefined): string {
  const off = string.advice?.cents_off ?? 0;
  if (waits !== undefined) return waits.settles ? "in tune" : (waits.cents ?? 0) < 0 ? "flat" : "sharp";
  const far = Math.abs(off) > 100 ? string.advice?.candidates[0]?.note : undefined;
  return far === undefined || string.letter !== null ? string.words : `${far}, ${string.words}`;
}

function voiceOf(off: number | null, settled: boolean): string {
  if (off === null || settled) return "var(--ink)";
  return off < 0 ? "var(--below)" : "var(--above)";
}

/** Where the next move should bring the weight; `arrow`: how far beside the strand the way there is drawn, where no figure stands. */
function Ghost({ x, from, to, arrow }: { x: number; from: number; to: number; arrow: number }) {
  if (Math.abs(to - from) < 6) return null;
  const tip = to > from ? -7 : 7;
  return (
    <g stroke="var(--ink)" fill="none" strokeWidth={2} opacity={0.8}>
      <rect x={x - 20} y={to - 9} width={40} height={18} rx={4} strokeDasharray="4 4" />
      <path
        d={`M${String(x + arrow)} ${String(from)} V${String(to)} m-5 ${String(tip)} l5 ${String(-tip)} l5 ${String(tip)}`}
      />
    </g>
  );
}

interface Place {
  left: number;
  base: number;
  size: number;
  anchor: "start" | "middle" | "end";
  /** From the figure's baseline to its word's. */
  wordBelow: number;
}

interface Placed {
  off: number;
  settled: boolean;
  x: number;
  y: number;
  current: boolean;
  narrow: boolean;
  last: boolean;
}

/** Where a string's figure and its word stand: beside the weight; settled or narrow, on the strand. */
function figurePlace({ off, settled, x, y, current, narrow, last }: Placed): Place {
  const size = narrow ? 26 : current ? 46 : 32;
  if (narrow) {
    const above = off > 0 || settled || y > REST_Y + 70;
    return { left: x, base: above ? y - 46 : y + 48, size, anchor: "middle", wordBelow: 18 };
  }
  if (settled) return { left: x, base: y - 48, size, anchor: "middle", wordBelow: 22 };
  // At the very bottom its word would run into the fifths.
  const beside = y + size * 0.2 - (y > REST_Y + 100 ? 22 : 0);
  const overLine = beside + 22 - (REST_Y - 7);
  const base = off > 0 && overLine > 0 && overLine < 24 ? beside - overLine : beside;
  return { left: last ? x - 30 : x + 30, base, size, anchor: last ? "end" : "start", wordBelow: 22 };
}

/** The strand from top to bottom, interrupted where a figure stands on it. */
function pieces(place: Place | null): [number, number][] {
  const end = BOARD_HEIGHT - 58;
  if (place === null)
    return [
      [0, REST_Y - 34],
      [REST_Y - 7, end],
    ];
  if (place.anchor !== "middle") return [[0, end]];
  return [
    [0, place.base - place.size * 0.8 - 2],
    [place.base + place.wordBelow + 7, end],
  ];
}

/** Without a place of its own, a string has its word on it; beside it, two neighbours' words would meet. */
function NotHeard({ word, x, narrow }: { word: string; x: number; narrow: boolean }) {
  return (
    <text x={x} y={REST_Y - 14} textAnchor="middle" fontSize={narrow ? 14 : 17} fill="var(--pencil)" {...halo}>
      {word}
    </text>
  );
}

interface FigureProps {
  shown: string;
  word: string;
  place: Place;
  narrow: boolean;
  voice: string;
}

function StrandFigure({ shown, word, place, narrow, voice }: FigureProps) {
  return (
    <g textAnchor={place.anchor} {...halo}>
      <text x={place.left} y={place.base} fontSize={place.size} fontWeight={700} fill={voice}>
        {shown}
      </text>
      <text x={place.left} y={place.base + place.wordBelow} fontSize={narrow ? 14 : 17} fill="var(--ink)">
        {word}
      </text>
    </g>
  );
}

const halo = { stroke: "var(--sheet)", strokeWidth: 5, paintOrder: "stroke" as const, strokeLinejoin: "round" as const };
