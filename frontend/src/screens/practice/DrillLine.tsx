import { Check, Ear, Hand, Mic } from "lucide-react";

import type { Drill, Point } from "../../api/practice";
import { Button } from "../../parts/Button";
import { plain } from "../../parts/figures";
import { useWidth } from "../../parts/useWidth";

interface DrillLineProps {
  drill: Drill;
  kept: boolean;
  onStart: (drill: Drill) => void;
}

const WAYS = { ears: Ear, figure: Ear, hands: Hand, microphone: Mic, choice: null };
const WAY_SAID = { ears: "by ear", figure: "by ear", hands: "with the hands", microphone: "with a microphone", choice: "" };

/** One drill: what it is, what was shown of it, and a press to begin. */
export function DrillLine({ drill, kept, onStart }: DrillLineProps) {
  const Way = WAYS[drill.way];
  return (
    <li className="grid grid-cols-[minmax(0,1fr)_auto] items-center gap-x-4 gap-y-1 py-2 md:grid-cols-[minmax(0,1.2fr)_minmax(0,1fr)_auto]">
      <div className="min-w-0">
        <p className="flex items-center gap-2 text-lg font-bold">
          {drill.said}
          {Way !== null && <Way size={18} role="img" aria-label={WAY_SAID[drill.way]} className="text-pencil" />}
          {drill.managed && <Check size={20} role="img" aria-label="shown" />}
        </p>
        <p className="text-pencil">{drill.does}</p>
      </div>
      <div className="min-w-0 max-md:col-span-2 max-md:row-start-2">
        {kept && drill.points.length > 0 && (
          <>
            <Goes drill={drill} />
            <p className="text-sm text-pencil">
              {drill.shown}
              {drill.before !== "" && drill.before !== drill.shown && `; a fortnight before: ${drill.before}`}
            </p>
          </>
        )}
      </div>
      <Button
        aria-label={`Begin: ${drill.said}`}
        className="max-md:col-start-2 max-md:row-start-1"
        onClick={() => {
          onStart(drill);
        }}
      >
        Begin
      </Button>
    </li>
  );
}

const LOW = 46;
const HIGH = 84;
const SHOWN = 24;

/** Goes from left to right: for ears how small a difference was told, with its ±; for the rest how many were right. */
function Goes({ drill }: { drill: Drill }) {
  const { ref, width } = useWidth<HTMLDivElement>(280);
  const points = drill.points.slice(-SHOWN);
  const x = (place: number) => 10 + (place * (width - 20)) / Math.max(1, SHOWN - 1);
  const ears = drill.way === "ears";
  const height = ears ? HIGH : LOW;
  return (
    <div ref={ref} className="contain-inline-size">
      <svg width={width} height={height} role="img" aria-label={inWords(drill, points)} className="block">
        <line x1={0} x2={width} y1={height - 5} y2={height - 5} stroke="var(--rule)" />
        {ears && drill.within_cents !== null && <Wanted cents={drill.within_cents} width={width} />}
        {points.map((point, place) => (
          <g key={`${point.day} ${String(place)}`}>
            {ears && point.cents !== null ? <Threshold point={point} x={x(place)} /> : <Share point={point} x={x(place)} />}
          </g>
        ))}
      </svg>
    </div>
  );
}

/** Where a threshold stands: a fine ear low, a coarse one high. */
function thresholdY(cents: number): number {
  const share = Math.log(Math.min(40, Math.max(1, cents))) / Math.log(40);
  return HIGH - 8 - share * (HIGH - 14);
}

/** The threshold that is wanted, as a line. */
function Wanted({ cents, width }: { cents: number; width: number }) {
  const y = thresholdY(cents);
  return (
    <g>
      <line x1={0} x2={width} y1={y} y2={y} stroke="var(--ink)" strokeWidth={1} strokeDasharray="5 4" />
      <text x={width - 2} y={y - 3} textAnchor="end" fontSize={13} fill="var(--pencil)">
        {cents} cents wanted
      </text>
    </g>
  );
}

/** A threshold with its ±. */
function Threshold({ point, x }: { point: Point; x: number }) {
  const y = thresholdY;
  return (
    <>
      <line x1={x} x2={x} y1={y(point.low ?? 1)} y2={y(point.high ?? 1)} stroke="var(--pencil)" strokeWidth={2} />
      <circle cx={x} cy={y(point.cents ?? 1)} r={3.5} fill="var(--below)" />
    </>
  );
}

function Share({ point, x }: { point: Point; x: number }) {
  const height = (LOW - 12) * (point.right / Math.max(1, point.asked));
  return (
    <>
      <rect x={x - 4} width={8} y={6} height={LOW - 12} fill="none" stroke="var(--rule)" />
      <rect x={x - 4} width={8} y={LOW - 6 - height} height={height} fill="var(--below)" />
    </>
  );
}

function inWords(drill: Drill, points: Point[]): string {
  const said = points.map((point) =>
    drill.way === "ears" && point.cents !== null
      ? `${plain(point.cents)} cents`
      : `${String(point.right)} of ${String(point.asked)}`,
  );
  return `${drill.said}, go by go: ${said.join(", ")}`;
}
