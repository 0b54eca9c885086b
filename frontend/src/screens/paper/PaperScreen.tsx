import { Printer } from "lucide-react";
import { useState } from "react";

import { useMay } from "../../api/device";
import type { OnRoll } from "../../api/instruments";
import { useInstruments, useKinds } from "../../api/instruments";
import { useManyCards } from "../../api/paper";
import { Button } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { Folded } from "../../parts/Folded";
import { Heading, keyOfLine } from "../../parts/listed/Heading";
import { Narrow } from "../../parts/listed/Narrow";
import { useNarrowed } from "../../parts/listed/narrowed";
import { Seen } from "../../parts/listed/Seen";
import { Shell } from "../../parts/Shell";
import { Trouble } from "../../parts/Trouble";

const PAPERS = [
  { value: "a4", said: "A4" },
  { value: "letter", said: "Letter" },
] as const;
const LETTERS: { value: "studio" | "sharps" | "flats"; said: string }[] = [
  { value: "studio", said: "as this studio’s" },
  { value: "sharps", said: "with ♯" },
  { value: "flats", said: "with ♭" },
];
type Paper = (typeof PAPERS)[number]["value"];
const KEPT = "pondus-paper";
/** As many ids an address may hold; of more, the cards come as a file. */
const FIT_AN_ADDRESS = 80;

/** Everything that can be printed, each sheet one press away. */
export function PaperScreen() {
  const [paper, setPaper] = useState<Paper>(() => (localStorage.getItem(KEPT) === "letter" ? "letter" : "a4"));
  const [perPage, setPerPage] = useState<"1" | "4">("4");
  const [chosen, setChosen] = useState<string[]>([]);
  const [letters, setLetters] = useState<(typeof LETTERS)[number]["value"]>("studio");
  const written = letters === "studio" ? "" : `&spelling=${letters}`;
  const roll = useMay("keep-roll");
  const morning = useMay("see-morning");
  const instruments = useInstruments();
  const kinds = useKinds().data ?? [];
  const many = useManyCards();
  const wanted = chosen.length > 0 ? chosen : (instruments.data ?? []).map((each) => each.id);
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
          <Choice label="Letters" value={letters} options={LETTERS} onChange={setLetters} />
          {kinds.map(({ kind }) => (
            <div key={kind} className="flex flex-wrap items-center gap-2">
              <b className="w-16">{kind}</b>
              <Sheet href={`/api/wall-chart.pdf?kind=${kind}&paper=${paper}${written}`}>
                {PAPERS.find((each) => each.value === paper)?.said}
              </Sheet>
              <Sheet href={`/api/wall-chart.pdf?kind=${kind}&paper=a3${written}`}>A3</Sheet>
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
            {wanted.length > FIT_AN_ADDRESS ? (
              <Button
                disabled={many.isPending}
                onClick={() => {
                  many.mutate({ ids: wanted, paper, per_page: perPage });
                }}
              >
                <Printer size={18} aria-hidden />{" "}
                <span>
                  {many.isPending
                    ? `Drawing ${String(wanted.length)} cards…`
                    : `Cards of ${chosen.length === 0 ? "all " : ""}${String(wanted.length)}`}
                </span>
                <span role="status" className="sr-only">
                  {many.isPending && "Drawing them"}
                </span>
              </Button>
            ) : (
              <Sheet href={`/api/cards.pdf?${cards.toString()}`}>
                {chosen.length === 0 ? "Cards of all" : `Cards of ${String(chosen.length)}`}
              </Sheet>
            )}
            <Folded title="Only some of them" className="w-full">
              <Some instruments={instruments.data ?? []} chosen={chosen} onChoose={setChosen} />
            </Folded>
            <Trouble error={many.error ?? instruments.error} />
          </section>
        )}
        <p className="text-pencil">
          Of one instrument: its card, what belongs in its case, and how it stands for a parent or a luthier are behind{" "}
          <i>More</i> on its own pages.
        </p>
      </main>
    </Shell>
  );
}

interface SomeProps {
  instruments: OnRoll[];
  chosen: string[];
  onChoose: (ids: string[]) => void;
}

/** Which of them: one by one, or all that a few letters leave. */
function Some({ instruments, chosen, onChoose }: SomeProps) {
  const narrowed = useNarrowed(instruments);
  const ids = narrowed.members.map((each) => each.id);
  const others = chosen.filter((id) => !ids.includes(id));
  return (
    <>
      <Narrow {...narrowed} />
      <div className="flex flex-wrap gap-2 pb-2">
        <Button
          onClick={() => {
            onChoose([...others, ...ids]);
          }}
        >
          {narrowed.typed.trim() === "" ? "All" : `These ${String(ids.length)}`}
        </Button>
        <Button
          onClick={() => {
            onChoose(others);
          }}
        >
          None{narrowed.typed.trim() !== "" && " of these"}
        </Button>
      </div>
      <Seen items={narrowed.lines} keyOf={keyOfLine} height={44}>
        {(line) =>
          "one" in line ? (
            <label className="flex min-h-11 items-center gap-3 px-2">
              <input
                type="checkbox"
                checked={chosen.includes(line.one.id)}
                onChange={(event) => {
                  const rest = chosen.filter((id) => id !== line.one.id);
                  onChoose(event.target.checked ? [...rest, line.one.id] : rest);
                }}
              />
              <b>{line.one.label}</b>
              <span className="text-pencil">
                {line.one.kind} {line.one.size}
                {line.one.player !== null && `, ${line.one.player}`}
              </span>
            </label>
          ) : (
            <Heading {...line} />
          )
        }
      </Seen>
    </>
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
