import type { SlipRate } from "../../api/ledger";

const AIR = { dry: "dry, under 35 %", between: "35 to 65 %", damp: "damp, over 65 %" };

/** How often pegs gave way in dry air, damp air and between: a bar for the share, a line for how sure that is. */
export function SlipBars({ slips }: { slips: SlipRate[] }) {
  const whole = Math.max(0.2, ...slips.map((each) => each.rate + each.plus_minus));
  const of = (share: number) => `${String((Math.min(1, share / whole) * 100).toFixed(1))}%`;
  return (
    <section aria-label="Pegs and air">
      <h2 className="text-lg font-bold">Pegs that gave way, of strings tuned</h2>
      <ul className="flex flex-col gap-1.5">
        {slips.map((each) => (
          <li key={each.band} className="grid grid-cols-[8.5rem_minmax(0,1fr)_4.5rem] items-center gap-2">
            <span>{AIR[each.band]}</span>
            {each.strings === 0 ? (
              <span className="text-pencil">nothing measured yet</span>
            ) : (
              <span className="relative block h-6 rounded-sm border border-rule bg-sheet">
                <span
                  className="absolute inset-y-0 left-0 bg-lit"
                  style={{ width: of(each.rate), borderRight: "3px solid var(--ink)" }}
                />
                <span
                  className="absolute top-1/2 h-0.5 bg-ink"
                  style={{
                    left: of(Math.max(0, each.rate - each.plus_minus)),
                    width: of(2 * Math.min(each.plus_minus, each.rate)),
                  }}
                />
              </span>
            )}
            {each.strings > 0 && (
              <span className="text-sm whitespace-nowrap" title="strings tuned in such air">
                {each.slipped} of {each.strings}
              </span>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
