import type { Planned } from "../../api/morning";

/** Who is there this morning, for those who don't keep it. */
export function WhoIsThere({ planned }: { planned: Planned }) {
  return (
    <section aria-label="Who is there" className="flex flex-col gap-2 self-start rounded-lg border border-rule bg-sheet p-3">
      <h2 className="text-lg font-bold">Who is there</h2>
      {planned.stations.length === 0 && <p>Nobody yet; a teacher adds people.</p>}
      <ul>
        {planned.stations.map((each) => (
          <li key={each.id} className="flex min-h-9 items-baseline gap-2">
            <b>{each.name}</b>
            <span className="text-pencil">
              {each.slots.length === 0 ? "free" : each.slots.map(({ label }) => label).join(", ")}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
