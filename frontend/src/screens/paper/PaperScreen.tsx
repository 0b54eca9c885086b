import { Printer } from "lucide-react";
import { useState } from "react";

import { useMay } from "../../api/device";
import { useInstruments } from "../../api/instruments";
import { useManyCards } from "../../api/paper";
import { Button } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { Shell } from "../../parts/Shell";
import { Trouble } from "../../parts/Trouble";

const PAPERS = [
  { value: "a4", said: "A4" },
  { value: "letter", said: "Letter" },
] as const;
type Paper = (typeof PAPERS)[number]["value"];
const KEPT = "pondus-paper";
/** As many ids an address may hold; of more, the cards come as a file. */
const FIT_AN_ADDRESS = 80;

/** Everything that can be printed, each sheet one press away. */
export function PaperScreen() {
  const [paper, setPaper] = useState<Paper>(() =>
    localStorage.getItem(KEPT) === "letter" ? "letter" : "a4",
  );
  const [perPage, setPerPage] = useState<"1" | "4">("4");
  const [chosen, setChosen] = useState<string[]>([]);
  const roll = useMay("keep-roll");
  const morning = useMay("see-morning");
  const instruments = useInstruments();
  const many = useManyCards();
  const cards = new URLSearchParams({ paper, per_page: perPage });
  if (chosen.length > 0) cards.set("ids", chosen.join());
  return (
    <Shell title="Paper">
      <main id="content" tabIndex={-1} className="flex max-w-4xl flex-col gap-7 py-4 outline-none">
        <Choice
          label="Paper"
          value={paper}
          options={[...PAPERS]}
          onChange={(value) => {
            localStorage.setItem(KEPT, value);
            setPaper(value);
          }}
        />
        <section aria-label="Wall charts" className="flex flex-col gap-2">
          <h2 className="border-b-2 border-ink pb-1 text-xl font-bold">For the wall</h2>
          <p>The letters around each string and what they mean; which peg, which way; three steps.</p>
          {(["violin", "viola", "cello"] as const).map((kind) => (
            <div key={kind} className="flex flex-wrap items-center gap-2">
              <b className="w-16">{kind}</b>
              <Sheet href={`/api/wall-chart.pdf?kind=${kind}&paper=${paper}`}>
                {PAPERS.find((each) => each.value === paper)?.said}
              </Sheet>
              <Sheet href={`/api/wall-chart.pdf?kind=${kind}&paper=a3`}>A3</Sheet>
            </div>
          ))}
        </section>
        {morning && (
          <section aria-label="This morning" className="flex flex-col items-start gap-2">
            <h2 className="w-full border-b-2 border-ink pb-1 text-xl font-bold">This morning</h2>
            <p>Who does which instrument, in order, and every instrument sorted, with boxes to tick.</p>
            <Sheet href={`/api/morning/sheet.pdf?paper=${paper}`}>The morning’s sheet</Sheet>
          </section>
        )}
        {roll && (
          <section aria-label="Cards" className="flex flex-col items-start gap-3">
            <h2 className="w-full border-b-2 border-ink pb-1 text-xl font-bold">Cards for the cases</h2>
            <Choice
              label="On each page"
              value={perPage}
              options={[
                { value: "4", said: "four, to cut apart" },
                { value: "1", said: "one, large" },
              ]}
              onChange={setPerPage}
            />
            {chosen.length > FIT_AN_ADDRESS ? (
              <Button
                disabled={many.isPending}
                onClick={() => {
                  many.mutate({ ids: chosen, paper, per_page: perPage });
                }}
              >
                <Printer size={18} aria-hidden /> {`Cards of ${String(chosen.length)}`}
              </Button>
            ) : (
              <Sheet href={`/api/cards.pdf?${cards.toString()}`}>
                {chosen.length === 0 ? "Cards of all" : `Cards of ${String(chosen.length)}`}
              </Sheet>
            )}
            <details className="w-full">
              <summary className="min-h-11 cursor-pointer py-2">Only some of them</summary>
              <ul className="grid gap-x-4 sm:grid-cols-3">
                {instruments.data?.map((each) => (
                  <li key={each.id}>
                    <label className="flex min-h-11 items-center gap-3">
                      <input
                        type="checkbox"
                        className="size-5"
                        checked={chosen.includes(each.id)}
                        onChange={() => {
                          setChosen(
                            chosen.includes(each.id)
                              ? chosen.filter((id) => id !== each.id)
                              : [...chosen, each.id],
                          );
                        }}
                      />
                      {each.label}
                    </label>
                  </li>
                ))}
              </ul>
            </details>
            <Trouble error={many.error ?? instruments.error} />
          </section>
        )}
        <p className="text-pencil">
          Of one instrument: its card, what belongs in its case, and how it stands for a parent or a luthier
          are behind <i>More</i> on its own pages.
        </p>
      </main>
    </Shell>
  );
}

function Sheet({ href, children }: { href: string; children: React.ReactNode }) {
  return (
    <a
      href={href}
      target="_blank"
      rel="noreferrer"
      className="inline-flex min-h-11 items-center gap-2 rounded-md border border-ink/60 bg-sheet px-3.5 hover:bg-lit"
    >
      <Printer size={18} aria-hidden /> {children}
    </a>
  );
}
