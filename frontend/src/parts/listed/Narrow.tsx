import { FIELD } from "../field";
import { LANGUAGE } from "../figures";

/** So many are seen at a look. */
const AT_A_LOOK = 8;

export interface NarrowProps {
  typed: string;
  onType: (typed: string) => void;
  /** How many are shown, of how many. */
  shown: number;
  all: number;
  /** In which order, and which there are. */
  by?: string;
  onBy?: (by: string) => void;
  ways?: { value: string; said: string }[];
}

/** A few letters narrow a list; and by what it is put in order. Where there is little, neither is needed. */
export function Narrow({ typed, onType, shown, all, by, onBy, ways = [] }: NarrowProps) {
  if (all <= AT_A_LOOK) return null;
  const count = (number: number) => number.toLocaleString(LANGUAGE);
  return (
    <div className="mb-2 flex flex-wrap items-center gap-x-4 gap-y-2">
      <input
        type="search"
        aria-label="Only those with"
        placeholder="only those with…"
        autoComplete="off"
        className={`${FIELD} w-40 flex-1 placeholder:text-pencil sm:max-w-72`}
        value={typed}
        onChange={(event) => {
          onType(event.target.value);
        }}
      />
      {ways.length > 0 && (
        <label className="flex items-center gap-2">
          by
          <select
            aria-label="In order by"
            className={FIELD}
            value={by}
            onChange={(event) => {
              onBy?.(event.target.value);
            }}
          >
            {ways.map(({ value, said }) => (
              <option key={value} value={value}>
                {said}
              </option>
            ))}
          </select>
        </label>
      )}
      <span role="status" className="text-pencil">
        {typed.trim() === "" ? count(all) : `${count(shown)} of ${count(all)}`}
      </span>
    </div>
  );
}
