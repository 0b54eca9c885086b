import { Link } from "react-router";

import { useStage } from "../../api/classes";
import { useMay } from "../../api/device";
import { useMorning } from "../../api/morning";
import { countOf, listed } from "../../parts/figures";
import { Shell } from "../../parts/Shell";
import { Unready } from "../../parts/Unready";

/** Before a stage, on one screen: the quiet room, the touch-up, what is left alone, and who isn’t home yet. */
export function StageScreen() {
  const stage = useStage();
  const morning = useMorning();
  const may = useMay("see-morning");
  const away = morning.data?.instruments.filter((each) => each.waits) ?? [];
  if (stage.data === undefined) {
    return (
      <Shell title="Before a stage">
        <Unready query={stage} what="what to do" />
      </Shell>
    );
  }
  return (
    <Shell title="Before a stage">
      <main
        id="content"
        tabIndex={-1}
        className="grid grid-cols-[minmax(0,1fr)] gap-6 py-4 outline-none lg:grid-cols-3"
      >
        {stage.data.map((part) => (
          <Part key={part.title} {...part} />
        ))}
        {may && morning.data !== undefined && (
          <section aria-label="Not home yet" className="lg:col-span-3">
            <h2 className="border-b-2 border-ink pb-1 text-2xl font-bold">
              {away.length === 0
                ? "All that were heard are home"
                : `${countOf(away.length, "instrument")} not home yet`}
            </h2>
            <p className="mt-2 text-xl">{listed(away.map((each) => each.label))}</p>
            <p className="mt-2 flex flex-wrap gap-x-6">
              <Link to="/sweep" className="inline-flex min-h-11 items-center font-bold underline">
                Hear them all
              </Link>
              <Link to="/class" className="inline-flex min-h-11 items-center font-bold underline">
                The A from outside
              </Link>
            </p>
          </section>
        )}
      </main>
    </Shell>
  );
}

function Part({ title, lines }: { title: string; lines: string[] }) {
  return (
    <section aria-label={title}>
      <h2 className="border-b-2 border-ink pb-1 text-2xl font-bold">{title}</h2>
      <ol className="mt-2 flex list-decimal flex-col gap-2 pl-7 text-xl">
        {lines.map((line) => (
          <li key={line}>{line}</li>
        ))}
      </ol>
    </section>
  );
}
