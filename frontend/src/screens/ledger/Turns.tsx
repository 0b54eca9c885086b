import type { Ledger } from "../../api/ledger";

/** What a turn makes on each string, learned from its own moves. */
export function Turns({ ledger }: { ledger: Ledger }) {
  const most = (figures: number[]) => Math.max(1, ...figures);
  const screws = ledger.strings.filter((each) => each.has_fine_tuner);
  const mostScrew = most(screws.map(({ learned }) => learned.screw_cents_per_turn + learned.screw_plus_minus));
  const mostPeg = most(ledger.strings.map(({ learned }) => learned.peg_cents_per_degree + learned.peg_plus_minus));
  return (
    <section aria-label="What a turn makes">
      <h2 className="text-lg font-bold">What a turn makes, in cents</h2>
      <table className="w-full text-left">
        <thead className="text-sm text-pencil">
          <tr>
            <th>String</th>
            <th>Fine tuner, a whole turn</th>
            <th>Peg, one degree</th>
          </tr>
        </thead>
        <tbody>
          {ledger.strings.map((each) => (
            <tr key={each.name} className="border-t border-rule">
              <th className="py-1">{each.name}</th>
              <td>
                {each.has_fine_tuner ? (
                  <Rate
                    value={each.learned.screw_cents_per_turn}
                    spread={each.learned.screw_plus_minus}
                    count={each.learned.screw_moves}
                    whole={mostScrew}
                  />
                ) : (
                  "no fine tuner"
                )}
              </td>
              <td>
                <Rate
                  value={each.learned.peg_cents_per_degree}
                  spread={each.learned.peg_plus_minus}
                  count={each.learned.peg_moves}
                  whole={mostPeg}
                />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

interface RateProps {
  value: number;
  spread: number;
  count: number;
  /** The figure at the right end of the line. */
  whole: number;
}

/** A figure with its ±, and beneath it the same to scale: the band is where it likely lies. */
function Rate({ value, spread, count, whole }: RateProps) {
  const at = (figure: number) => `${String(Math.max(0, Math.min(100, (figure / whole) * 100)))}%`;
  return (
    <>
      <b>{value.toFixed(0)}</b> ± {spread.toFixed(0)}{" "}
      <span className="text-sm text-pencil">
        {count === 0 ? "as its kind does" : `${String(count)} ${count === 1 ? "move" : "moves"}`}
      </span>
      <span className="relative mr-4 mb-1 block h-2.5 border-b border-rule" aria-hidden>
        <span
          className={`absolute inset-y-0.5 rounded-sm ${count === 0 ? "bg-rule" : "bg-below/35"}`}
          style={{ left: at(value - spread), width: at(2 * spread) }}
        />
        <span className="absolute inset-y-0 w-0.5 bg-ink" style={{ left: at(value) }} />
      </span>
    </>
  );
}
