import { ArrowRight } from "lucide-react";

import type { Me } from "../../api/device";
import { useCome, useMe } from "../../api/device";
import type { StationPlanned } from "../../api/morning";
import { useMorningPlan, useTake } from "../../api/morning";
import { Button } from "../../parts/Button";
import { Shell } from "../../parts/Shell";
import { Trouble } from "../../parts/Trouble";
import { Unready } from "../../parts/Unready";
import { useGoTo } from "../../parts/useGoTo";

/** On the device of someone who tunes this morning: the instrument they have, and the one after it. */
export function MineScreen() {
  const me = useMe();
  const plan = useMorningPlan();
  if (me.data === undefined || plan.data === undefined) {
    return (
      <Shell title="Mine">
        <Unready query={me.data === undefined ? me : plan} what="what is yours this morning" />
      </Shell>
    );
  }
  const station = plan.data.stations.find((each) => each.id === me.data.station_id);
  return (
    <Shell title="Mine">
      <main id="content" tabIndex={-1} className="flex max-w-2xl flex-col gap-5 py-5 outline-none">
        {station === undefined ? <NotThere me={me.data} /> : <MyTurns station={station} toHear={plan.data.to_hear} />}
        <Trouble error={plan.error} />
      </main>
    </Shell>
  );
}

function NotThere({ me }: { me: Me }) {
  const come = useCome();
  return (
    <>
      <p className="text-2xl">
        Good morning{me.name === "" ? "" : `, ${me.name}`}. Say that you are here, and the plan counts on you.
      </p>
      <Button
        look="main"
        className="min-h-14 self-start text-xl"
        disabled={come.isPending}
        onClick={() => {
          come.mutate();
        }}
      >
        I am here
      </Button>
      <Trouble error={come.error} />
    </>
  );
}

function MyTurns({ station, toHear }: { station: StationPlanned; toHear: number }) {
  const { goTo, error } = useGoTo();
  const take = useTake();
  const [first, ...later] = station.slots;
  const handOver = () => {
    take.mutate({ station: station.id, instrument: null });
  };
  if (first === undefined) {
    return (
      <>
        <p className="text-2xl font-bold">Nothing is yours just now.</p>
        <p className="text-lg">
          {toHear > 0
            ? `${toHear === 1 ? "1 instrument is" : `${String(toHear)} instruments are`} still to hear; what they need comes here by itself.`
            : "All that you may turn is done."}
        </p>
        {station.in_hand !== null && <Button onClick={handOver}>Hand over what I have</Button>}
      </>
    );
  }
  return (
    <>
      <section aria-label="Now" className="flex flex-col gap-3 rounded-lg border-2 border-ink bg-sheet p-4">
        <h2 className="text-lg text-pencil">{first.in_hand ? "You have" : "Next for you"}</h2>
        <p className="text-5xl font-bold">{first.label}</p>
        <p className="text-xl">
          {first.said}, about {Math.max(1, Math.ceil(first.ends - first.starts))} min
        </p>
        {station.recalled_said !== "" && <p aria-live="polite">{station.recalled_said}</p>}
        <div className="flex flex-wrap gap-3">
          <Button
            look="main"
            className="min-h-14 text-xl"
            onClick={() => {
              void goTo(first.id, station.id);
            }}
          >
            {first.in_hand ? "Go on" : "Begin"} <ArrowRight size={20} aria-hidden />
          </Button>
          {first.in_hand && (
            <Button className="min-h-14 text-xl" onClick={handOver}>
              Hand it over
            </Button>
          )}
        </div>
        <Trouble error={error ?? take.error} />
      </section>
      {later.length > 0 && (
        <section aria-label="After that">
          <h2 className="text-lg text-pencil">After that</h2>
          <ol className="divide-y divide-rule">
            {later.map((slot) => (
              <li key={slot.id} className="flex min-h-11 items-center justify-between gap-3 text-lg">
                <b>{slot.label}</b> <span className="text-pencil">in {Math.ceil(slot.starts)} min</span>
              </li>
            ))}
          </ol>
        </section>
      )}
    </>
  );
}
