import { useState } from "react";
import { Link } from "react-router";

import type { CareBook, InstrumentCare } from "../../api/care";
import { useAddCare } from "../../api/care";
import { Button } from "../../parts/Button";
import { FIELD } from "../../parts/field";
import { shortDay } from "../../parts/figures";
import { Trouble } from "../../parts/Trouble";

/** What is at the luthier's, and what should go there. */
export function Luthier({ book }: { book: CareBook }) {
  const add = useAddCare();
  const out = book.instruments.filter((each) => each.out !== null);
  const referred = book.instruments.filter((each) => each.out === null && each.referrals.length > 0);
  const send = (instrument: InstrumentCare) => {
    const said = instrument.referrals.map((each) => whatFor(each)).join("; ");
    add.mutate({ instrument: instrument.id, entry: { kind: "luthier-out", said } });
  };
  return (
    <section aria-label="Luthier">
      <h2 className="text-2xl font-bold">Luthier</h2>
      {out.length + referred.length === 0 && <p>Nothing to mend, nothing away.</p>}
      <ul className="divide-y divide-rule border-y border-rule empty:hidden">
        {referred.map((each) => (
          <li key={each.id} className="flex flex-wrap items-center gap-x-4 gap-y-1 py-2">
            <Link to={`/ledger/${each.id}`} className="min-w-32 text-xl font-bold hover:underline">
              {each.label}
            </Link>
            <span className="min-w-56 flex-1">
              {each.referrals.map((one) => (
                <span key={`${one.sign}${one.string ?? ""}`} className="block">
                  <b>{whatFor(one)}</b>, {one.why}: {one.to === "luthier" ? "to the luthier" : "a new string"}
                </span>
              ))}
            </span>
            {each.referrals.some((one) => one.to === "luthier") && (
              <Button
                onClick={() => {
                  send(each);
                }}
              >
                Sent to the luthier
              </Button>
            )}
          </li>
        ))}
        {out.map((each) => (
          <li key={each.id} className="flex flex-wrap items-center gap-x-4 gap-y-1 py-2">
            <Link to={`/ledger/${each.id}`} className="min-w-32 text-xl font-bold hover:underline">
              {each.label}
            </Link>
            <span className="min-w-56 flex-1">
              away since {each.out === null ? "" : shortDay(each.out.at)}
              {each.out?.due != null && `, back by ${shortDay(each.out.due)}`}
              {each.out !== null && each.out.said !== "" && <span className="block">{each.out.said}</span>}
            </span>
            <Back
              label={each.label}
              onBack={(said) => {
                add.mutate({ instrument: each.id, entry: { kind: "luthier-in", said } });
              }}
            />
          </li>
        ))}
      </ul>
      <Trouble error={add.error} />
    </section>
  );
}

/** Back from the luthier, with what was done. */
function Back({ label, onBack }: { label: string; onBack: (said: string) => void }) {
  const [said, setSaid] = useState("");
  return (
    <form
      className="flex flex-wrap items-center gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        onBack(said);
      }}
    >
      <input
        aria-label={`What was done to ${label}`}
        placeholder="what was done"
        className={`${FIELD} w-44`}
        value={said}
        maxLength={500}
        onChange={(event) => {
          setSaid(event.target.value);
        }}
      />
      <Button type="submit">It is back</Button>
    </form>
  );
}

function whatFor(referral: { said: string; string: string | null }): string {
  return referral.string === null ? referral.said : `${referral.string}: ${referral.said}`;
}
