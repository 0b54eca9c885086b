import { useStrikeCare } from "../../api/care";
import type { CareEntry } from "../../api/care";
import { Button } from "../Button";
import { shortDay } from "../figures";

/** What was done and noticed, newest first; an entry made by mistake is struck out, and can be brought back. */
export function CareEntries({ entries }: { entries: CareEntry[] }) {
  const strike = useStrikeCare();
  if (entries.length === 0) return <p className="text-pencil">Nothing entered yet.</p>;
  return (
    <ul className="divide-y divide-rule border-y border-rule">
      {entries.map((each) => (
        <li key={each.id} className="flex items-center gap-2 py-1">
          <span className={`min-w-0 flex-1 ${each.struck ? "text-pencil line-through" : ""}`}>
            <b>{each.headline}</b> <span className="text-pencil">{shortDay(each.at)}</span>
            {each.said !== "" && <span className="block">{each.said}</span>}
            {each.due !== null && <span className="block text-pencil">back by {shortDay(each.due)}</span>}
          </span>
          <Button
            look="quiet"
            onClick={() => {
              strike.mutate({ id: each.id, back: each.struck });
            }}
          >
            {each.struck ? "Bring back" : "Strike out"}
          </Button>
        </li>
      ))}
    </ul>
  );
}
