/** How a field to write or choose in looks. */
export const FIELD = "min-h-11 rounded-md border border-ink/60 bg-paper px-2";
