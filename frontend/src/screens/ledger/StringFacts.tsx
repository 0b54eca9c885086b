import type { Ledger, LedgerString } from "../../api/ledger";
import { countOf, signed, written } from "../../parts/figures";

const VOICE = { flat: "text-below", "in tune": "", sharp: "text-above" };

/** Each string's next morning, large. */
export function StringFacts({ ledger }: { ledger: Ledger }) {
  const day = written(ledger.forecast_for, { weekday: "long" });
  return (
    <section aria-label="Next morning">
      <h2 className="text-lg font-bold">Expected on {day}, if nobody turns it</h2>
      <ul className="grid grid-cols-2 gap-2 sm:grid-cols-4">
        {ledger.strings.map((each) => (
          <li key={each.name} className="rounded-md border border-rule bg-sheet px-3 py-2">
            <div className="flex items-baseline justify-between">
              <b className="text-2xl">{each.name}</b>
              <span className="text-sm text-pencil">{onSince(each.put_on)}</span>
            </div>
            <Told string={each} />
          </li>
        ))}
      </ul>
    </section>
  );
}

function Told({ string }: { string: LedgerString }) {
  const told = string.forecast;
  if (told === null) return <p className="text-pencil">not heard yet</p>;
  return (
    <p
      title={`From ${countOf(told.nights, "night")}; a night makes ${signed(told.creep_cents)} ± ${told.creep_plus_minus.toFixed(1)} cents.`}
    >
      <b className={`text-4xl ${VOICE[told.word]}`}>{signed(Math.round(told.cents))}</b> ± {told.plus_minus.toFixed(0)}
      <br />
      {told.word}, from {told.nights} {told.nights === 1 ? "night" : "nights"}
    </p>
  );
}

function onSince(put_on: string | null): string {
  if (put_on === null) return "age unknown";
  const days = Math.max(0, Math.floor((Date.now() - Date.parse(put_on)) / 86_400_000));
  return days < 61 ? `${String(days)} days old` : `${String(Math.round(days / 30.4))} months old`;
}
