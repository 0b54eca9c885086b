import { Moon, Sun } from "lucide-react";
import type { ReactNode } from "react";
import { useState } from "react";
import { Link, NavLink } from "react-router";

import { Button } from "./Button";
import { NAV_LINK } from "./navLink";
import { chooseTheme, storedTheme } from "./theme";

const PLACES = [
  ["/morning", "Morning"],
  ["/roll", "Roll"],
  ["/care", "Care"],
] as const;

interface ShellProps {
  tools?: ReactNode;
  /** Much stands beside the name: it is left out where there is little room. */
  compact?: boolean;
  children: ReactNode;
}

/** The frame of every page: the name, the studio's places, what the screen puts beside them, light or dark. */
export function Shell({ tools, compact = false, children }: ShellProps) {
  const [theme, setTheme] = useState(storedTheme);
  const other = theme === "light" ? "dark" : "light";
  return (
    <div className="mx-auto flex min-h-screen max-w-[1500px] flex-col px-3 sm:px-5">
      <header className="flex flex-wrap items-center gap-x-2 gap-y-1 border-b-2 border-ink py-1.5 print:hidden">
        <Link
          to="/"
          aria-label="Pondus"
          className="flex min-h-11 items-center gap-2 text-xl font-bold tracking-tight"
        >
          <img src="/mark.svg" alt="" className="size-7 rounded-sm bg-[#f4efe4]" />
          <span className={compact ? "hidden 2xl:inline" : "hidden sm:inline"}>Pondus</span>
        </Link>
        <nav aria-label="The studio" className="flex">
          {PLACES.map(([to, said]) => (
            <NavLink key={to} to={to} className={NAV_LINK}>
              {said}
            </NavLink>
          ))}
        </nav>
        <Button
          look="quiet"
          className="max-sm:ml-auto sm:order-last"
          aria-label={`Change to ${other}`}
          onClick={() => {
            chooseTheme(other);
            setTheme(other);
          }}
        >
          {theme === "light" ? <Moon size={20} /> : <Sun size={20} />}
        </Button>
        {tools ?? <span className="ml-auto" />}
      </header>
      {children}
    </div>
  );
}
