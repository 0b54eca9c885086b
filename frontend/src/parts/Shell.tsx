import type { ReactNode } from "react";
import { Suspense, useEffect, useLayoutEffect, useRef, useState } from "react";
import { Moon, Search, Sun } from "lucide-react";
import { Link, NavLink, useNavigationType } from "react-router";

import { AwayNote } from "./AwayNote";
import { Button } from "./Button";
import { useFindKey } from "./find/useFindKey";
import { More, MORE_ENTRY } from "./More";
import { longDay } from "./figures";
import { useMe } from "../api/device";
import { SignOut } from "./SignOut";
import { NAV_LINK } from "./navLink";
import { lazyScreen } from "../screens/lazyScreen";
import { chooseTheme, storedTheme } from "./theme";

const Find = lazyScreen(async () => (await import("./find/Find")).Find);

const PLACES = [
  ["/mine", "Mine", "come"],
  ["/morning", "Morning", "see-morning"],
  ["/roll", "Roll", "keep-roll"],
  ["/practice", "Practice", "practise"],
  ["/care", "Care", "keep-care"],
] as const;

interface ShellProps {
  /** What this page is: the window's title and, unless `heading` says it otherwise, the first heading. */
  title: string;
  /** The first heading, where more than the title stands in it. */
  heading?: ReactNode;
  /** Pages beside this one. */
  pages?: readonly PageLink[];
  /** What is always at hand. */
  tools?: ReactNode;
  /** What stands behind *More*. */
  more?: ReactNode;
  /** The focus goes elsewhere on this page by itself, not to its heading. */
  keepsFocus?: boolean;
  children: ReactNode;
}

interface PageLink {
  to: { pathname: string; search: string };
  said: string;
}

/** The frame of every page: the name, the studio's places, what the screen puts beside them. One row on every screen. */
export function Shell({ title, heading, pages = [], tools, more, keepsFocus = false, children }: ShellProps) {
  const [theme, setTheme] = useState(storedTheme);
  const other = theme === "light" ? "dark" : "light";
  const first = useRef<HTMLHeadingElement>(null);
  const arrived = useNavigationType();
  // Before anyone sees the page: a title that comes after it is the page before’s for a moment.
  useLayoutEffect(() => {
    document.title = `${title} · Pondus`;
  }, [title]);
  useEffect(() => {
    if (arrived === "PUSH" && !keepsFocus) first.current?.focus({ preventScroll: true });
  }, [arrived, keepsFocus]);
  const change = () => {
    chooseTheme(other);
    setTheme(other);
  };
  const crowded = pages.length > 0;
  // Where the row of places names the page already, its heading needn't be seen a second time.
  const isPlace = PLACES.some(([, said]) => said === title);
  const me = useMe().data;
  const places = PLACES.filter(([, , act]) => me?.can.includes(act) ?? false)
    // Who sits at the studio's own computer is nobody in particular.
    .filter(([to]) => to !== "/mine" || me?.signed_in === true)
    .map(([to, said]) => [{ pathname: to, search: "" }, said] as const);
  const finds = me?.can.includes("see-morning") === true;
  const [finding, setFinding] = useState(false);
  const find = () => {
    setFinding(true);
  };
  useFindKey(find, finds);
  return (
    <div className="mx-auto flex min-h-screen max-w-[1500px] flex-col px-3 sm:px-5">
      <a
        href="#content"
        className="sr-only rounded-md bg-ink px-4 py-2 font-bold text-paper focus:not-sr-only focus:absolute focus:top-2 focus:left-2 focus:z-40 focus:px-4 focus:py-2"
      >
        To the content
      </a>
      <header className="flex items-center gap-x-1 border-b-2 border-ink py-1.5 sm:gap-x-2 print:hidden">
        <Link to="/" aria-label="Pondus" className="flex min-h-11 shrink-0 items-center gap-2 text-xl font-bold tracking-tight">
          <img src="/mark.svg" alt="" className="size-7 rounded-sm bg-[#f4efe4]" />
          <span className={crowded ? "hidden 2xl:inline" : "hidden md:inline"}>Pondus</span>
        </Link>
        <nav aria-label="The studio" className={crowded ? "hidden lg:flex" : "hidden sm:flex"}>
          {places.map(([to, said]) => (
            <NavLink key={said} to={to} className={NAV_LINK}>
              {said}
            </NavLink>
          ))}
        </nav>
        <h1
          ref={first}
          tabIndex={-1}
          className={`min-w-0 flex-1 pl-1 text-xl ${crowded ? "" : "truncate"} outline-offset-0 sm:border-l-2 sm:border-rule sm:pl-3 ${heading === undefined ? "font-bold" : ""} ${isPlace ? "sm:sr-only" : ""}`}
        >
          {heading ?? title}
        </h1>
        {isPlace && <span className="flex-1 max-sm:hidden" />}
        {crowded && (
          <nav aria-label="This instrument" className="hidden md:flex">
            {pages.map(({ to, said }) => (
              <NavLink key={said} to={to} className={NAV_LINK}>
                {said}
              </NavLink>
            ))}
          </nav>
        )}
        {tools}
        {finds && (
          <Button look="quiet" className="max-xl:hidden" aria-label="Find" title="Find: / or Ctrl K" onClick={find}>
            <Search size={20} aria-hidden />
          </Button>
        )}
        <Button look="quiet" className="max-xl:hidden" aria-label={`Change to ${other}`} onClick={change}>
          {theme === "light" ? <Moon size={20} aria-hidden /> : <Sun size={20} aria-hidden />}
        </Button>
        <More>
          {finds && (
            <button type="button" className={`${MORE_ENTRY} xl:hidden`} onClick={find}>
              <Search size={18} aria-hidden /> Find an instrument or somebody
            </button>
          )}
          <nav aria-label="The studio" className={`flex flex-col ${crowded ? "lg:hidden" : "sm:hidden"}`}>
            {places.map(([to, said]) => (
              <NavLink key={said} to={to} className={MORE_ENTRY}>
                {said}
              </NavLink>
            ))}
          </nav>
          {crowded && (
            <nav aria-label="This instrument" className="flex flex-col md:hidden">
              {pages.map(({ to, said }) => (
                <NavLink key={said} to={to} className={MORE_ENTRY}>
                  {said}
                </NavLink>
              ))}
            </nav>
          )}
          {more}
          {me?.can.includes("see-morning") === true && (
            <Link to="/class" className={MORE_ENTRY}>
              A class tunes together
            </Link>
          )}
          <Link to="/paper" className={MORE_ENTRY}>
            Paper: cards, charts, sheets
          </Link>
          {me?.can.includes("let-devices-in") === true && (
            <Link to="/devices" className={MORE_ENTRY}>
              Devices
            </Link>
          )}
          <SignOut />
          {me?.can.includes("keep-roll") === true && (
            <Link to="/first" className={MORE_ENTRY}>
              One instrument, and it sounds wrong
            </Link>
          )}
          <Link to="/parts" className={MORE_ENTRY}>
            The parts and how they work
          </Link>
          <Link to="/help" className={MORE_ENTRY}>
            Help
          </Link>
          <button type="button" className={`${MORE_ENTRY} xl:hidden`} onClick={change}>
            Change to {other}
          </button>
        </More>
      </header>
      <p className="hidden pb-2 text-xl print:block">
        <b>{title}</b> · {longDay(new Date())}
      </p>
      {finding && (
        <Suspense fallback={null}>
          <Find
            pages={places.map(([to, said]) => ({ to: to.pathname, said, beside: "page", words: "" }))}
            onClose={() => {
              setFinding(false);
            }}
          />
        </Suspense>
      )}
      <AwayNote />
      {children}
    </div>
  );
}
