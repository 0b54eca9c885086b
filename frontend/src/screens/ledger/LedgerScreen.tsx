import { useParams } from "react-router";

import type { Ledger } from "../../api/ledger";
import { useLedger } from "../../api/ledger";
import { AirChart } from "../../parts/AirChart";
import { CareEntries } from "../../parts/care/CareEntries";
import { EnterCare } from "../../parts/care/EnterCare";
import { InstrumentShell } from "../../parts/InstrumentShell";
import { Shell } from "../../parts/Shell";
import { countOf } from "../../parts/figures";
import { Unready } from "../../parts/Unready";
import { DriftChart } from "./DriftChart";
import { SlipBars } from "./SlipBars";
import { StringFacts } from "./StringFacts";
import { Tunings } from "./Tunings";
import { Turns } from "./Turns";

/** What one instrument did over the weeks, what that teaches, and where it will stand tomorrow. */
export function LedgerScreen() {
  const { instrumentId = "" } = useParams();
  const ledger = useLedger(instrumentId);
  if (ledger.data === undefined) {
    return (
      <Shell title="Ledger">
        <Unready query={ledger} what="the ledger" />
      </Shell>
    );
  }
  const { data } = ledger;
  const drawn = data.tunings.length > 1;
  return (
    <InstrumentShell instrument={data.instrument} page="Ledger">
      <main
        id="content"
        tabIndex={-1}
        className="outline-none grid grid-cols-[minmax(0,1fr)] gap-6 py-3 lg:grid-cols-[minmax(0,1.7fr)_minmax(0,1fr)]"
      >
        <div className="flex min-w-0 flex-col gap-5">
          <StringFacts ledger={data} />
          {drawn ? (
            <section aria-label="Drift" className="flex flex-col gap-1">
              <h2 className="text-lg font-bold">As found, in cents from its note</h2>
              <div className="grid gap-x-4 gap-y-1 sm:grid-cols-2">
                {data.strings.map((each) => (
                  <DriftChart key={each.name} ledger={data} string={each} />
                ))}
              </div>
              <Air ledger={data} />
            </section>
          ) : (
            <p>Once it has been tuned on two days, what its strings do overnight is drawn here.</p>
          )}
          <Tunings tunings={data.tunings} names={data.strings.map((each) => each.name)} />
        </div>
        <div className="flex min-w-0 flex-col gap-5">
          <section aria-label="Care" className="flex flex-col gap-2">
            <h2 className="text-lg font-bold">Care</h2>
            <EnterCare instrument={data.instrument} />
            <CareEntries entries={data.care} />
          </section>
          <Turns ledger={data} />
          <SlipBars slips={data.slips} />
          <section aria-label="Time">
            <h2 className="text-lg font-bold">Time</h2>
            <p>
              {data.time.tunings === 0
                ? "Not tuned yet."
                : `${countOf(data.time.tunings, "tuning")}, ${countOf(Math.round(data.time.minutes), "minute")} in all: ${countOf(data.time.minutes_each, "minute")} and ${countOf(data.time.moves_each, "turn")} each.`}
            </p>
          </section>
        </div>
      </main>
    </InstrumentShell>
  );
}

/** The room's humidity at those tunings. */
function Air({ ledger }: { ledger: Ledger }) {
  const points = ledger.tunings.flatMap((each) =>
    each.humidity === null ? [] : [{ at: Date.parse(each.at), humidity: each.humidity }],
  );
  if (points.length < 2) {
    return <p className="text-pencil">Humidity is drawn here once it is measured: enter it under Care.</p>;
  }
  return <AirChart points={points} comfortable={ledger.comfortable} />;
}
