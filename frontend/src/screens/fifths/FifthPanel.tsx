import type { ChainLink, Fifths, NewCheck } from "../../api/fifths";
import { fromPure } from "./fromPure";
import { FifthTones } from "./FifthTones";
import { HarmonicsEntry } from "./HarmonicsEntry";
import { TapBeats } from "./TapBeats";

const WAYS = {
  "two-readings": "from two single readings",
  "double-stop": "heard together",
  harmonics: "from its two harmonics",
  tapped: "from tapped beats",
  "by-ear": "by how it sounds",
};

interface FifthPanelProps {
  fifths: Fifths;
  link: ChainLink;
  onCheck: (check: NewCheck["check"]) => void;
}

/** One fifth looked at closely: its figures, its sound, and the other ways to check it. */
export function FifthPanel({ fifths, link, onCheck }: FifthPanelProps) {
  const lines = fifths.strings
    .filter((each) => each.name === link.lower || each.name === link.upper)
    .map((each) => each.tuner_line)
    .filter((each) => each !== null);
  return (
    <section
      aria-label={`The fifth ${link.lower}–${link.upper}`}
      className="flex flex-col gap-3 rounded-lg border border-rule bg-sheet p-4"
    >
      <div>
        <h2 className="inline text-lg font-bold">
          {link.lower}–{link.upper}
        </h2>{" "}
        {figures(link)}
      </div>
      {lines.map((each) => (
        <p key={each}>{each}</p>
      ))}
      <FifthTones link={link} />
      {link.slow_said !== null && <p>{link.slow_said}</p>}
      <div className="grid gap-4 md:grid-cols-2">
        <TapBeats key={`tap-${link.lower}`} link={link} onCheck={onCheck} />
        <HarmonicsEntry key={`harmonics-${link.lower}`} link={link} onCheck={onCheck} />
      </div>
    </section>
  );
}

function figures(link: ChainLink): string {
  if (link.from_pure_cents === null || link.interval_cents === null || link.way === null) {
    return `is not known yet. When right: ${link.temperament_beats_said}.`;
  }
  const sure = link.plus_minus_cents === null ? "" : ` ± ${link.plus_minus_cents.toFixed(1)}`;
  return `is ${link.interval_cents.toFixed(1)}${sure} cents, ${fromPure(link.from_pure_cents)}, ${WAYS[link.way]}. When right: ${link.temperament_beats_said}.`;
}
