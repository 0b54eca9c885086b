import {
  CartesianGrid,
  ComposedChart,
  ErrorBar,
  Line,
  ReferenceLine,
  ResponsiveContainer,
  Scatter,
  Tooltip,
  XAxis,
  YAxis,
} from "recharts";

import type { Ledger, LedgerString } from "../../api/ledger";
import { shortDay, signed } from "../../parts/figures";
import { AXIS, TIME_AXIS } from "../../parts/chartLooks";

const MORNING_MS = 8 * 3_600_000;

interface Point {
  at: number;
  found: number;
  /** Where it is drawn: at the edge, if it lies outside. */
  drawn: number;
}

/** One string as found at each tuning, with its new strings and tomorrow's forecast. */
export function DriftChart({ ledger, string }: { ledger: Ledger; string: LedgerString }) {
  const found = ledger.tunings.flatMap((each) => {
    const cents = each.strings[string.name]?.found;
    return cents == null ? [] : [{ at: Date.parse(each.at), found: cents }];
  });
  const [low, high] = rangeOf(found.map((each) => each.found));
  const points: Point[] = found.map((each) => ({
    ...each,
    drawn: Math.min(high, Math.max(low, each.found)),
  }));
  const told = string.forecast;
  const forecast = told === null ? [] : [forecastPoint(told, ledger.forecast_for, low, high)];
  const changes = ledger.care.filter(
    (each) => each.kind === "string-changed" && each.string === string.name && !each.struck,
  );
  return (
    <figure className="min-w-0">
      <figcaption className="flex items-baseline justify-between px-1">
        <b>{string.name}</b>
        <span className="text-sm text-pencil">{summary(string)}</span>
      </figcaption>
      <ResponsiveContainer width="100%" height={130}>
        <ComposedChart data={points} margin={{ top: 6, right: 14, bottom: 0, left: -18 }}>
          <CartesianGrid stroke="var(--rule)" vertical={false} />
          <XAxis {...TIME_AXIS} dataKey="at" domain={[points[0]?.at ?? 0, forecast[0]?.at ?? "dataMax"]} />
          <YAxis {...AXIS} domain={[low, high]} ticks={[low, 0, high]} tickFormatter={signed} />
          <ReferenceLine y={0} stroke="var(--ink)" strokeWidth={1.5} />
          {changes.map((each) => (
            <ReferenceLine
              key={each.id}
              x={Date.parse(each.at)}
              stroke="var(--above)"
              strokeWidth={2}
              strokeDasharray="5 4"
              label={{ value: "new", position: "insideTopLeft", fill: "var(--above)", fontSize: 13 }}
            />
          ))}
          <Line
            dataKey="drawn"
            stroke="var(--below)"
            strokeWidth={1.5}
            dot={Mark}
            isAnimationActive={false}
          />
          <Scatter data={forecast} dataKey="drawn" fill="var(--ink)" isAnimationActive={false}>
            <ErrorBar dataKey="spread" stroke="var(--ink)" strokeWidth={2} width={5} />
          </Scatter>
          <Tooltip
            content={({ active, payload }) => {
              const point = payload[0]?.payload as Partial<Point> | undefined;
              if (!active || point?.at === undefined) return null;
              return (
                <p className="rounded-md border border-ink bg-sheet px-2 py-1 text-sm">
                  {shortDay(point.at)}: {signed(point.found ?? 0)} cents
                </p>
              );
            }}
          />
        </ComposedChart>
      </ResponsiveContainer>
    </figure>
  );
}

/** Tomorrow's place, kept inside the picture. */
function forecastPoint(told: NonNullable<LedgerString["forecast"]>, day: string, low: number, high: number) {
  const drawn = Math.min(high, Math.max(low, told.cents));
  const spread: [number, number] = [
    Math.min(told.plus_minus, drawn - low),
    Math.min(told.plus_minus, high - drawn),
  ];
  return { at: Date.parse(day) + MORNING_MS, drawn, spread };
}

interface MarkProps {
  cx?: number;
  cy?: number;
  payload?: Point;
}

/** A dot; an arrow with its figure for what lies outside the picture. */
function Mark({ cx = 0, cy = 0, payload }: MarkProps) {
  if (payload === undefined || payload.found === payload.drawn) {
    return <circle cx={cx} cy={cy} r={2.2} fill="var(--below)" />;
  }
  const down = payload.found < payload.drawn;
  const tip = down ? cy + 1 : cy - 1;
  const base = down ? cy - 7 : cy + 7;
  return (
    <path
      d={`M${String(cx)} ${String(tip)}L${String(cx - 4)} ${String(base)}H${String(cx + 4)}Z`}
      fill="var(--below)"
    />
  );
}

/** A range that shows the usual mornings well; the odd slipped peg is drawn at its edge. */
function rangeOf(found: number[]): [number, number] {
  const sorted = [...found].sort((a, b) => a - b);
  const at = (share: number) => sorted[Math.round(share * (sorted.length - 1))] ?? 0;
  const low = Math.min(-20, Math.floor(at(0.06) / 10) * 10);
  const high = Math.max(10, Math.ceil(at(0.94) / 10) * 10);
  return [Math.max(low, -50), Math.min(high, 50)];
}

function summary(string: LedgerString): string {
  if (string.furthest_cents === null) return "not heard yet";
  return `flat ${String(string.flat_times)} of ${String(string.heard_times)} times, furthest ${signed(string.furthest_cents)}`;
}
