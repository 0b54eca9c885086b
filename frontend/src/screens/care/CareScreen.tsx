import { CalendarDays } from "lucide-react";

import { useCare } from "../../api/care";
import { Shell } from "../../parts/Shell";
import { Trouble } from "../../parts/Trouble";
import { Due } from "./Due";
import { Luthier } from "./Luthier";
import { Room } from "./Room";
import { Shopping } from "./Shopping";
import { StudioZone } from "./StudioZone";
import { Watched } from "./Watched";

/** What wants care: strings due, what to buy, faults to refer, the luthier, the room's air. */
export function CareScreen() {
  const care = useCare();
  const tools = (
    <>
      <h1 className="sr-only">Care</h1>
      <span className="ml-auto" />
      <a
        href="/api/care/calendar.ics"
        title="What is due, for a calendar program"
        className="flex min-h-11 items-center gap-2 rounded-md px-3 hover:bg-lit"
      >
        <CalendarDays size={18} aria-hidden /> Calendar
      </a>
    </>
  );
  if (care.data === undefined) {
    return (
      <Shell tools={tools}>
        <main className="py-8 text-xl">
          {care.isError ? <Trouble error={care.error} /> : "Fetching what is due…"}
        </main>
      </Shell>
    );
  }
  return (
    <Shell tools={tools}>
      <main className="grid grid-cols-[minmax(0,1fr)] gap-6 py-4 lg:grid-cols-[minmax(0,1.4fr)_minmax(0,1fr)]">
        <div className="flex min-w-0 flex-col gap-6">
          <Luthier book={care.data} />
          <Due book={care.data} />
        </div>
        <div className="flex min-w-0 flex-col gap-6">
          <Shopping book={care.data} />
          <Watched book={care.data} />
          <Room air={care.data.air} comfortable={care.data.comfortable} now={care.dataUpdatedAt} />
          <StudioZone />
        </div>
      </main>
    </Shell>
  );
}
