import { Ear, Printer } from "lucide-react";
import { Link } from "react-router";

import { useMay } from "../../api/device";
import { useMorning, useMorningPlan } from "../../api/morning";
import { Shell } from "../../parts/Shell";
import { Trouble } from "../../parts/Trouble";
import { Unready } from "../../parts/Unready";
import { Sorted } from "./Sorted";
import { Stations } from "./Stations";
import { Timeline } from "./Timeline";
import { WhoIsThere } from "./WhoIsThere";

/** The group's morning: who needs what, who does what, and when all are done. */
export function MorningScreen() {
  const morning = useMorning();
  const plan = useMorningPlan();
  const keeps = useMay("keep-morning");
  const toHear = morning.data?.counts["not-heard"] ?? 0;
  const tools = (
    <>
      <a
        href="/api/morning/sheet.pdf"
        target="_blank"
        rel="noreferrer"
        aria-label="Print the morning’s sheet"
        title="Print the morning’s sheet"
        className="flex size-11 shrink-0 items-center justify-center rounded-md hover:bg-lit max-sm:hidden"
      >
        <Printer size={20} aria-hidden />
      </a>
      <Link
        to="/sweep"
        className={`flex min-h-11 shrink-0 items-center gap-2 rounded-md border px-3.5 ${toHear > 0 ? "border-ink bg-ink font-bold text-paper hover:opacity-90" : "border-ink/60 bg-sheet hover:bg-lit"}`}
      >
        <Ear size={20} aria-hidden /> Hear them all
        {toHear > 0 && <span className="-ml-2 max-lg:hidden">, {toHear} to go</span>}
      </Link>
    </>
  );
  if (morning.data === undefined || plan.data === undefined) {
    return (
      <Shell title="Morning" tools={tools}>
        <Unready query={morning.data === undefined ? morning : plan} what="the instruments" />
      </Shell>
    );
  }
  return (
    <Shell title="Morning" tools={tools}>
      <main id="content" tabIndex={-1} className="outline-none flex flex-col gap-4 py-3">
        <div className="grid grid-cols-[minmax(0,1fr)] gap-4 lg:grid-cols-[minmax(0,1.7fr)_minmax(0,1fr)]">
          <div className="flex min-w-0 flex-col gap-3">
            <Timeline planned={plan.data} now={plan.dataUpdatedAt} />
            <Trouble error={plan.error ?? morning.error} />
          </div>
          {keeps ? <Stations planned={plan.data} /> : <WhoIsThere planned={plan.data} />}
        </div>
        <Sorted instruments={morning.data.instruments} planned={plan.data} />
      </main>
    </Shell>
  );
}
