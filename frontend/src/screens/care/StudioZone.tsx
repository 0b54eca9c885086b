import { useChangeZone, useZone } from "../../api/zone";
import { FIELD } from "../../parts/field";
import { Trouble } from "../../parts/Trouble";

/** Where the studio's days begin: mornings, due dates and the calendar follow it. */
export function StudioZone() {
  const zone = useZone();
  const change = useChangeZone();
  if (zone.data === undefined) return <Trouble error={zone.error} />;
  const known = Intl.supportedValuesOf("timeZone");
  const own = zone.data ?? "UTC";
  const zones = known.includes(own) ? known : [own, ...known];
  return (
    <section aria-label="The studio’s days">
      <label className="flex flex-wrap items-center gap-2">
        Days here are those of
        <select
          className={`${FIELD} max-w-full`}
          value={own}
          onChange={(event) => {
            change.mutate(event.target.value);
          }}
        >
          {zones.map((each) => (
            <option key={each} value={each}>
              {each.replaceAll("_", " ")}
            </option>
          ))}
        </select>
      </label>
      <Trouble error={change.error} />
    </section>
  );
}
