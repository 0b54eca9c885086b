import { useSetAside } from "../../api/lists";

/** Records of this studio that can't be used as they stand; nothing where there are none. */
export function SetAside() {
  const records = useSetAside().data?.records ?? [];
  if (records.length === 0) return null;
  return (
    <section aria-label="Set aside" className="flex flex-col gap-1 border-t border-rule pt-3">
      <h2 className="text-lg font-bold">Set aside</h2>
      <p>
        {records.length === 1
          ? "One record can’t be used as it stands. It is kept, and goes"
          : `${String(records.length)} records can’t be used as they stand. They are kept, and go`}{" "}
        with the whole studio’s file.
      </p>
      <ul className="max-h-48 overflow-y-auto">
        {records.map((each) => (
          <li key={each.id}>
            <b>{each.said}</b>: {each.reason}
          </li>
        ))}
      </ul>
    </section>
  );
}
