import { Moon, Sun } from "lucide-react";
import type { ReactNode } from "react";
import { useState } from "react";
import { Link } from "react-router";

import { Button } from "./Button";
import { chooseTheme, storedTheme } from "./theme";

/** The frame of every page: the name, what the screen puts beside it, light or dark. */
export function Shell({ tools, children }: { tools?: ReactNode; children: ReactNode }) {
  const [theme, setTheme] = useState(storedTheme);
  const other = theme === "light" ? "dark" : "light";
  return (
    <div className="mx-auto flex min-h-screen max-w-[1500px] flex-col px-3 sm:px-5">
      <header className="flex flex-wrap items-center gap-x-3 gap-y-1 border-b-2 border-ink py-1.5">
        <Link to="/" className="flex min-h-11 items-center gap-2 text-xl font-bold tracking-tight">
          <img src="/mark.svg" alt="" className="size-7 rounded-sm bg-[#f4efe4]" />
          Pondus
        </Link>
        {tools}
        <Button
          look="quiet"
          className={tools === undefined ? "ml-auto" : ""}
          aria-label={`Change to ${other}`}
          onClick={() => {
            chooseTheme(other);
            setTheme(other);
          }}
        >
          {theme === "light" ? <Moon size={20} /> : <Sun size={20} />}
        </Button>
      </header>
      {children}
    </div>
  );
}
