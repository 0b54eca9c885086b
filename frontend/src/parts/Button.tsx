import type { ButtonHTMLAttributes } from "react";

interface ButtonProps extends ButtonHTMLAttributes<HTMLButtonElement> {
  look?: "plain" | "main" | "quiet";
}

const LOOKS = {
  main: "bg-ink text-paper border-ink font-bold hover:opacity-90",
  plain: "bg-sheet text-ink border-ink/60 hover:bg-lit",
  quiet: "bg-transparent text-ink border-transparent hover:bg-lit",
};

/** A button of at least 44 px. */
export function Button({ look = "plain", className = "", ...rest }: ButtonProps) {
  return (
    <button
      type="button"
      className={`inline-flex min-h-11 min-w-11 items-center justify-center gap-2 rounded-md border px-3.5 py-1.5 text-base disabled:opacity-50 ${LOOKS[look]} ${className}`}
      {...rest}
    />
  );
}
