import { CalendarDays } from "lucide-react";

import { useCare } from "../../api/care";
import { Shell } from "../../parts/Shell";
import { Unready } from "../../parts/Unready";
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
    <a
      href="/api/care/calendar.ics"
      title="What is due, for a calendar program"
      className="flex min-h-11 items-center gap-2 rounded-md px-3 hover:bg-lit"
    >
      <CalendarDays size={18} aria-hidden /> Calendar
    </a>
  );
  if (care.data === undefined) {
    return (
      <Shell title="Care" tools={tools}>
        <Unready query={care} what="what is due" />
      </Shell>
    );
  }
  return (
    <Shell title="Care" tools={tools}>
      <main
        id="content"
        tabIndex={-1}
        className="outline-none grid grid-cols-[minmax(0,1fr)] gap-6 py-4 lg:grid-cols-[minmax(0,1.4fr)_minmax(0,1fr)]"
      >
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
