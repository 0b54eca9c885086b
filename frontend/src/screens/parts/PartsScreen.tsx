import { useEffect } from "react";
import { useLocation } from "react-router";

import type { Term } from "../../parts/explained/words";
import { WORDS } from "../../parts/explained/words";
import { Shell } from "../../parts/Shell";

const ORDER: Term[] = ["way", "fine-tuner", "peg", "winding", "bridge", "cent", "octave", "beat", "tempered", "pure"];

/** The parts and how they work: for someone who has never turned one. */
export function PartsScreen() {
  const { hash } = useLocation();
  useEffect(() => {
    const asked = hash === "" ? null : document.getElementById(hash.slice(1));
    asked?.scrollIntoView();
    asked?.focus({ preventScroll: true });
  }, [hash]);
  return (
    <Shell title="The parts and how they work" keepsFocus={hash !== ""}>
      <main id="content" tabIndex={-1} className="py-4 outline-none">
        <nav aria-label="On this page" className="mb-4 flex flex-wrap gap-x-1 print:hidden">
          {ORDER.map((term) => (
            <a
              key={term}
              href={`#${term}`}
              className="flex min-h-11 items-center rounded-md px-2.5 underline underline-offset-4 hover:bg-lit"
            >
              {WORDS[term].title}
            </a>
          ))}
        </nav>
        <div className="grid gap-6 lg:grid-cols-2">
          {ORDER.map((term) => (
            <Part key={term} term={term} />
          ))}
        </div>
      </main>
    </Shell>
  );
}

function Part({ term }: { term: Term }) {
  const { title, short, more, drawing: Drawing } = WORDS[term];
  return (
    <section
      aria-labelledby={term}
      className="flex break-inside-avoid flex-col gap-2 rounded-lg border border-rule bg-sheet p-4"
    >
      <h2 id={term} tabIndex={-1} className="scroll-mt-4 text-xl font-bold outline-none">
        {title}
      </h2>
      {Drawing !== null && <Drawing />}
      <p className="text-lg">{short}</p>
      <p>{more}</p>
    </section>
  );
}
