import type { BroughtList } from "../../api/lists";
import { Folded } from "../../parts/Folded";
import { LANGUAGE } from "../../parts/figures";

interface ChangingProps {
  list: BroughtList;
  /** Lines that stay as they are. */
  leftOut: readonly number[];
  onLeaveOut: (lines: number[]) => void;
}

/** What a list of the roll changes there, old beside new, each to be left out; and what it says nothing of. */
export function Changing({ list, leftOut, onLeaveOut }: ChangingProps) {
  if (list.kind !== "roll" || list.missing.length > 0) return null;
  const fresh = list.good - list.changing_count - list.people_count;
  return (
    <section aria-label="What it changes" className="flex flex-col gap-2">
      <p className="text-lg">
        <b>{count(fresh, "is new", "are new")}</b>, <b>{count(list.changing_count, "changes", "change")}</b>,{" "}
        {count(list.same, "is", "are")} on the roll already, as it stands there.
      </p>
      {list.new_names_count > 0 && (
        <p className="text-lg">
          <b>{count(list.new_names_count, "name is new", "names are new")}</b> and will be added to the people:{" "}
          {list.new_names.join(", ")}
          {list.new_names.length < list.new_names_count && "…"}.
        </p>
      )}
      {list.changing.length > 0 && (
        <>
          <ul className="max-h-96 divide-y divide-rule overflow-y-auto border-y border-rule">
            {list.changing.map(({ line, label, changes }) => (
              <li key={line}>
                <label className="flex min-h-11 flex-wrap items-center gap-x-3 gap-y-1 py-1.5">
                  <input
                    type="checkbox"
                    checked={!leftOut.includes(line)}
                    onChange={(event) => {
                      const others = leftOut.filter((each) => each !== line);
                      onLeaveOut(event.target.checked ? others : [...others, line]);
                    }}
                  />
                  <b className="min-w-24">{label}</b>
                  {changes.map(({ said, before, after }) => (
                    <span key={said}>
                      {said}: <s className="text-pencil">{before === "" ? "nothing" : before}</s> → <b>{after}</b>
                    </span>
                  ))}
                </label>
              </li>
            ))}
          </ul>
          {list.changing.length < list.changing_count && <p>The first {list.changing.length} are shown.</p>}
        </>
      )}
      {list.changing_count + list.same > 0 && (
        <p className="text-pencil">
          Of what is on the roll a list changes size, who has it, hours, class, teacher, place, case, serial number and note. An
          empty cell changes nothing; strings and their fittings are changed at the bench and under Care.
        </p>
      )}
      {list.absent_count > 0 && list.changing_count + list.same > 0 && (
        <Folded title={`${count(list.absent_count, "on the roll isn’t", "on the roll aren’t")} in this list`}>
          <p>{list.absent.join(", ")}. They stay as they are.</p>
        </Folded>
      )}
    </section>
  );
}

function count(number: number, one: string, more: string): string {
  return `${number.toLocaleString(LANGUAGE)} ${number === 1 ? one : more}`;
}
