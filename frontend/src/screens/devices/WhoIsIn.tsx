import type { Devices } from "../../api/device";
import { useEndDevice } from "../../api/device";
import { Button } from "../../parts/Button";
import { ago, shortDay } from "../../parts/figures";
import { Trouble } from "../../parts/Trouble";

/** The devices that are signed in; one press ends one. `now`: when that was told, in ms. */
export function WhoIsIn({ devices, now }: { devices: Devices; now: number }) {
  const end = useEndDevice();
  return (
    <section aria-label="Devices that are in">
      <h2 className="mb-2 text-2xl font-bold">Signed in now</h2>
      {devices.devices.length === 0 && <p>No other device is signed in.</p>}
      <ul className="divide-y divide-rule border-y border-rule empty:hidden">
        {devices.devices.map((each) => (
          <li key={each.id} className="flex min-h-14 flex-wrap items-center gap-x-3 gap-y-1 py-1">
            <span className="min-w-0 flex-1">
              <b className="text-lg">{each.name}</b>{" "}
              <span className="text-pencil">
                {each.role}, {each.kind}
                {each.here && ", this one"}
              </span>
              <span className="block text-sm text-pencil">
                since {shortDay(Date.parse(each.began_at))}, last seen{" "}
                {ago(each.seen_at, Math.max(now, Date.parse(each.seen_at)))}, until {shortDay(Date.parse(each.ends_at))}
              </span>
            </span>
            <Button
              aria-label={`Sign out ${each.name}, ${each.kind}`}
              onClick={() => {
                end.mutate(each.id);
              }}
            >
              Sign it out
            </Button>
          </li>
        ))}
      </ul>
      <Trouble error={end.error} />
    </section>
  );
}
