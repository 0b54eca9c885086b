import type { ComponentProps } from "react";
import { Link } from "react-router";

interface Look {
  look?: "plain" | "main" | "quiet";
}
type ButtonProps = ComponentProps<"button"> & Look;

const LOOKS = {
  main: "bg-ink text-paper border-ink font-bold hover:opacity-90",
  plain: "bg-sheet text-ink border-ink/60 hover:bg-lit",
  quiet: "bg-transparent text-ink border-transparent hover:bg-lit",
};

const SHAPE = "inline-flex min-h-11 min-w-11 items-center justify-center gap-2 rounded-md border px-3.5 py-1.5 text-base";

/** A button of at least 44 px. */
export function Button({ look = "plain", className = "", ...rest }: ButtonProps) {
  return <button type="button" className={`${SHAPE} disabled:opacity-50 ${LOOKS[look]} ${className}`} {...rest} />;
}

/** A way to another page that looks like a button. */
export function ButtonLink({ look = "plain", className = "", ...rest }: ComponentProps<typeof Link> & Look) {
  return <Link className={`${SHAPE} ${LOOKS[look]} ${className}`} {...rest} />;
}
