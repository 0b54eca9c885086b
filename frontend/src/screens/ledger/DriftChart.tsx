import type { Ledger, LedgerString } from "../../api/ledger";
import { signed } from "../../parts/figures";
import { Plot } from "../../parts/Plot";

const MORNING_MS = 8 * 3_600_000;

/** One string as found at each tuning, with its new strings and tomorrow's forecast. */
export function DriftChart({ ledger, string }: { ledger: Ledger; string: LedgerString }) {
  const points = ledger.tunings.flatMap((each) => {
    const cents = each.strings[string.name]?.found;
    return cents == null ? [] : [{ at: Date.parse(each.at), value: cents }];
  });
  const [low, high] = rangeOf(points.map((each) => each.value));
  const { forecast } = string;
  const told =
    forecast === null
      ? undefined
      : { at: Date.parse(ledger.forecast_for) + MORNING_MS, value: forecast.cents, plusMinus: forecast.plus_minus };
  const changes = ledger.care.filter((each) => each.kind === "string-changed" && each.string === string.name && !each.struck);
  return (
    <figure className="min-w-0">
      <figcaption className="flex items-baseline justify-between px-1">
        <b>{string.name}</b>
        <span className="text-sm text-pencil">{summary(string)}</span>
      </figcaption>
      <Plot
        points={points}
        range={[low, high]}
        ticks={[low, 0, high]}
        rest={0}
        said={(value) => `${signed(value)} cents`}
        height={130}
        colour="var(--below)"
        until={told?.at}
        told={told}
        marks={changes.map((each) => ({ key: each.id, at: Date.parse(each.at), said: "new" }))}
      />
    </figure>
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
