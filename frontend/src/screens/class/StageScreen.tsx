import { useStage, useStudioSettings } from "../../api/classes";
import { useMay } from "../../api/device";
import type { Triaged } from "../../api/morning";
import { useMorning } from "../../api/morning";
import { ButtonLink } from "../../parts/Button";
import { countOf } from "../../parts/figures";
import { Shell } from "../../parts/Shell";
import { Unready } from "../../parts/Unready";
import { AFromOutside } from "./AFromOutside";

/** Whoever isn’t in tune yet, by what that means before a stage. */
const GROUPS: [title: string, is: (each: Triaged) => boolean][] = [
  ["One soft touch", (each) => each.group === "student-can"],
  ["Goes off with its player", (each) => each.group === "teacher-must"],
  ["Not heard yet", (each) => each.group === "not-heard"],
];

/** Before a stage, on one screen: one A for all, who isn’t in tune, the quiet room, the touch-up, what is left alone. */
export function StageScreen() {
  const stage = useStage();
  const morning = useMorning();
  const settings = useStudioSettings();
  const maySee = useMay("see-morning");
  const maySet = useMay("keep-settings");
  const waiting = morning.data?.instruments.filter((each) => each.waits) ?? [];
  if (stage.data === undefined) {
    return (
      <Shell title="Before a stage">
        <Unready query={stage} what="what to do" />
      </Shell>
    );
  }
  return (
    <Shell title="Before a stage">
      <main id="content" tabIndex={-1} className="grid grid-cols-[minmax(0,1fr)] gap-6 py-4 outline-none lg:grid-cols-3">
        {maySee && morning.data !== undefined && (
          <section aria-label="Not in tune yet" className="lg:col-span-3">
            <div className="flex flex-wrap items-center justify-between gap-x-6 gap-y-2 border-b-2 border-ink pb-1">
              <h2 className="text-2xl font-bold">
                {waiting.length === 0
                  ? "All that were heard are in tune"
                  : `${countOf(waiting.length, "instrument")} not in tune yet`}
              </h2>
              {waiting.length > 0 && <ButtonLink to="/sweep">Hear them all</ButtonLink>}
            </div>
            <div className="mt-2 grid grid-cols-[minmax(0,1fr)] gap-x-6 gap-y-4 sm:grid-cols-3">
              {GROUPS.map(([title, is]) => (
                <Waiting key={title} title={title} instruments={waiting.filter(is)} />
              ))}
            </div>
          </section>
        )}
        {stage.data.map((part) => (
          <section key={part.title} aria-label={part.title}>
            <h2 className="border-b-2 border-ink pb-1 text-2xl font-bold">{part.title}</h2>
            <ol className="mt-2 flex list-decimal flex-col gap-2 pl-7 text-lg">
              {part.lines.map((line) => (
                <li key={line}>{line}</li>
              ))}
            </ol>
          </section>
        ))}
        {maySet && (
          <div className="lg:col-span-3">
            <AFromOutside own={settings.data} />
          </div>
        )}
      </main>
    </Shell>
  );
}

function Waiting({ title, instruments }: { title: string; instruments: Triaged[] }) {
  if (instruments.length === 0) return null;
  return (
    <section aria-label={title}>
      <h3 className="text-lg font-bold">
        {title} <span className="font-normal text-pencil">{instruments.length}</span>
      </h3>
      <ul className="mt-1 flex flex-wrap gap-1.5">
        {instruments.map((each) => (
          <li key={each.id}>
            <ButtonLink to={`/bench/${each.id}`} title={each.said}>
              {each.label}
            </ButtonLink>
          </li>
        ))}
      </ul>
    </section>
  );
}
