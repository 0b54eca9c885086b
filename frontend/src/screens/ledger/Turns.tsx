import type { Ledger } from "../../api/ledger";

/** What a turn makes on each string, learned from its own moves. */
export function Turns({ ledger }: { ledger: Ledger }) {
  return (
    <section aria-label="What a turn makes">
      <h2 className="text-lg font-bold">What a turn makes, in cents</h2>
      <table className="w-full text-left">
        <thead className="text-sm text-pencil">
          <tr>
            <th>String</th>
            <th>Screw, a whole turn</th>
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
                  />
                ) : (
                  "no screw"
                )}
              </td>
              <td>
                <Rate
                  value={each.learned.peg_cents_per_degree}
                  spread={each.learned.peg_plus_minus}
                  count={each.learned.peg_moves}
                />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

function Rate({ value, spread, count }: { value: number; spread: number; count: number }) {
  return (
    <>
      <b>{value.toFixed(0)}</b> ± {spread.toFixed(0)}{" "}
      <span className="text-sm text-pencil">
        {count === 0 ? "as its kind does" : `${String(count)} ${count === 1 ? "move" : "moves"}`}
      </span>
    </>
  );
}
