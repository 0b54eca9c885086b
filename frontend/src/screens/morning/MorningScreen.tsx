import { Link } from "react-router";

import { useMorning, useMorningPlan } from "../../api/morning";
import { Shell } from "../../parts/Shell";
import { Trouble } from "../../parts/Trouble";
import { Sorted } from "./Sorted";
import { Stations } from "./Stations";
import { Timeline } from "./Timeline";
import { useStations } from "./useStations";

/** The group's morning: who needs what, who does what, and when all are done. */
export function MorningScreen() {
  const morning = useMorning();
  const stations = useStations();
  const changed = (morning.data?.instruments ?? [])
    .map((each) => `${each.id}${each.group}${String(each.minutes)}`)
    .join();
  const plan = useMorningPlan(stations.stations, changed);
  const tools = (
    <>
      <h1 className="text-xl font-bold">This morning</h1>
      <Link to="/" className="flex min-h-11 items-center rounded-md px-3 hover:bg-lit">
        All instruments
      </Link>
      <span className="ml-auto" />
    </>
  );
  if (morning.data === undefined) {
    return (
      <Shell tools={tools}>
        <main className="py-8 text-xl">
          {morning.isError ? <Trouble error={morning.error} /> : "Fetching the instruments…"}
        </main>
      </Shell>
    );
  }
  return (
    <Shell tools={tools}>
      <main className="flex flex-col gap-4 py-3">
        <div className="grid grid-cols-[minmax(0,1fr)] gap-4 lg:grid-cols-[minmax(0,1.7fr)_minmax(0,1fr)]">
          <div className="flex min-w-0 flex-col gap-3">
            {plan.data !== undefined && <Timeline planned={plan.data} now={plan.dataUpdatedAt} />}
            <Trouble error={plan.error} />
          </div>
          <Stations {...stations} />
        </div>
        <Sorted instruments={morning.data.instruments} />
      </main>
    </Shell>
  );
}
