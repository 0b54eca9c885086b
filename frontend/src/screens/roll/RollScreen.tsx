import { FileDown, FileUp, Printer } from "lucide-react";
import { useState } from "react";
import { Link } from "react-router";

import { useInstruments, useKinds } from "../../api/instruments";
import type { Person, Stage } from "../../api/people";
import { usePeople } from "../../api/people";
import { fits } from "../../parts/find/found";
import { Folded } from "../../parts/Folded";
import { Heading, keyOfLine } from "../../parts/listed/Heading";
import { Narrow } from "../../parts/listed/Narrow";
import { useNarrowed } from "../../parts/listed/narrowed";
import { Seen } from "../../parts/listed/Seen";
import { Shell } from "../../parts/Shell";
import { Trouble } from "../../parts/Trouble";
import { AddInstrument } from "./AddInstrument";
import { AddPerson } from "./AddPerson";
import { InstrumentLine } from "./InstrumentLine";
import { PersonLine } from "./PersonLine";

const TOOL = "flex min-h-11 items-center gap-2 rounded-md px-3 hover:bg-lit";

/** The roll: the studio's instruments and people. */
export function RollScreen() {
  const instruments = useInstruments(true);
  const kinds = useKinds();
  const people = usePeople();
  const inUse = instruments.data?.filter((each) => !each.retired) ?? [];
  const retired = instruments.data?.filter((each) => each.retired) ?? [];
  const narrowed = useNarrowed(inUse);
  const none = instruments.data !== undefined && inUse.length === 0;
  return (
    <Shell
      title="Roll"
      tools={
        <>
          <Link to="/bring" className={TOOL}>
            <FileUp size={18} aria-hidden /> Bring a list
          </Link>
          <Link to="/paper" className={`${TOOL} max-md:hidden`}>
            <Printer size={18} aria-hidden /> Print cards
          </Link>
          <a href="/api/export/roll.csv" className={TOOL}>
            <FileDown size={18} aria-hidden /> Save as CSV
          </a>
        </>
      }
    >
      <main
        id="content"
        tabIndex={-1}
        className="outline-none grid grid-cols-[minmax(0,1fr)] gap-8 py-4 lg:grid-cols-[minmax(0,1.6fr)_minmax(0,1fr)]"
      >
        <section aria-label="Instruments" className="min-w-0">
          <h2 className="mb-2 text-2xl font-bold">Instruments</h2>
          <Trouble error={instruments.error} />
          {none && (
            <p className="text-lg">
              None is kept yet. Is it yours, and does it sound wrong?{" "}
              <Link to="/first" className="font-bold underline underline-offset-4">
                I have one instrument and it sounds wrong
              </Link>
              . Else add the one in your hands; you can tune it at once, and say more about it later. A list of many can be
              brought as a CSV file.
            </p>
          )}
          <Narrow {...narrowed} />
          <Seen items={narrowed.lines} keyOf={keyOfLine} height={52}>
            {(line) =>
              "one" in line ? (
                <InstrumentLine instrument={line.one} people={people.data?.people ?? []} by={narrowed.by} />
              ) : (
                <Heading {...line} />
              )
            }
          </Seen>
          {retired.length > 0 && (
            <Folded title={`No longer in use, ${String(retired.length)}`} className="mt-3">
              <Seen items={retired} keyOf={(each) => each.id} height={52}>
                {(each) => <InstrumentLine instrument={each} people={[]} />}
              </Seen>
            </Folded>
          )}
        </section>
        <div className="flex min-w-0 flex-col gap-6">
          {kinds.data !== undefined && <AddInstrument kinds={kinds.data} />}
          <section aria-label="People">
            <h2 className="mb-2 text-2xl font-bold">People</h2>
            <Trouble error={people.error} />
            {people.data?.people.length === 0 && (
              <p>Nobody yet. Names or initials are enough; players are cleared stage by stage.</p>
            )}
            {people.data !== undefined && <People {...people.data} />}
            <AddPerson />
          </section>
        </div>
      </main>
    </Shell>
  );
}

/** Everybody, narrowed to what somebody types. */
function People({ people, stages }: { people: Person[]; stages: Stage[] }) {
  const [typed, setTyped] = useState("");
  const shown = people.filter((each) => fits(`${each.name} ${each.role}`, typed));
  return (
    <>
      <Narrow typed={typed} onType={setTyped} shown={shown.length} all={people.length} />
      <Seen items={shown} keyOf={(each) => each.id}>
        {(each) => <PersonLine person={each} stages={stages} />}
      </Seen>
    </>
  );
}
