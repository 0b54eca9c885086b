import { useEffect, useState } from "react";
import { Link, useLocation } from "react-router";
import guide from "../../../../docs/GUIDE.md";

import { FIELD } from "../../parts/field";
import { fits } from "../../parts/find/found";
import { Shell } from "../../parts/Shell";

const PAGES = guide.map((each) => ({ ...each, text: `${each.title} ${each.html.replace(/<[^>]*>/g, "")}` }));

/** The handbook by what there is to do, found by words. */
export function HelpScreen() {
  const { hash } = useLocation();
  const [sought, setSought] = useState("");
  const found = PAGES.filter((each) => fits(each.text, sought));
  useEffect(() => {
    if (hash !== "") document.getElementById(hash.slice(1))?.scrollIntoView();
  }, [hash]);
  return (
    <Shell title="Help">
      <main id="content" tabIndex={-1} className="flex max-w-3xl flex-col gap-4 py-4 outline-none">
        <label className="flex flex-col gap-1 font-bold">
          What are you looking for?
          <input
            role="searchbox"
            className={`${FIELD} font-normal`}
            placeholder="peg, class, tablet …"
            value={sought}
            onChange={(event) => {
              setSought(event.target.value);
            }}
          />
        </label>
        <nav aria-label="On this page" className="flex flex-wrap gap-x-1 print:hidden">
          {found.map((each) => (
            <Link
              key={each.id}
              to={{ hash: each.id }}
              className="flex min-h-11 items-center rounded-md px-2.5 underline underline-offset-4 hover:bg-lit"
            >
              {each.title}
            </Link>
          ))}
        </nav>
        {found.length === 0 && (
          <p role="status" className="text-lg">
            Nothing here speaks of that. The words and drawings of{" "}
            <Link to="/parts" className="font-bold underline">
              the parts
            </Link>{" "}
            may.
          </p>
        )}
        {found.map((each) => (
          <section key={each.id} aria-labelledby={each.id} className="guide border-t border-rule pt-3">
            <h2 id={each.id} className="scroll-mt-4 text-2xl font-bold">
              {each.title}
            </h2>
            <div dangerouslySetInnerHTML={{ __html: each.html }} />
          </section>
        ))}
      </main>
    </Shell>
  );
}
