/** Signed cents for the eye: whole from ten upwards, one place below; a true minus sign; no minus zero. */
export function signed(cents: number): string {
  const figure = plain(cents);
  if (figure === "0") return "0";
  return `${cents < 0 ? "−" : "+"}${figure}`;
}

/** Cents without a sign, as exact as `signed`. */
export function plain(cents: number): string {
  const size = Math.abs(cents);
  return size >= 9.95 ? size.toFixed(0) : size.toFixed(1).replace(/\.0$/, "");
}

/** How long ago, in words a person would use. */
export function ago(iso: string, now: number): string {
  const seconds = Math.max(0, Math.round((now - Date.parse(iso)) / 1000));
  if (seconds < 10) return "just now";
  if (seconds < 60) return `${seconds} s ago`;
  if (seconds < 3600) return `${Math.round(seconds / 60)} min ago`;
  if (seconds < 86400) return `${Math.round(seconds / 3600)} h ago`;
  return shortDay(iso);
}

/** The language of the pages; days and clocks are written in it. */
export const LANGUAGE = "en-GB";

/** A day in full, with its weekday. */
export function longDay(day: Date): string {
  return day.toLocaleDateString(LANGUAGE, {
    weekday: "long",
    day: "numeric",
    month: "long",
    year: "numeric",
  });
}

/** The time of day. */
export function clockTime(at: string | number, seconds = false): string {
  return new Date(at).toLocaleTimeString(LANGUAGE, {
    hour: "2-digit",
    minute: "2-digit",
    ...(seconds && { second: "2-digit" }),
  });
}

/** A day, short: with its year where that isn't this one. */
export function shortDay(iso: string | number): string {
  const day = new Date(iso);
  const other = day.getFullYear() !== new Date().getFullYear();
  return day.toLocaleDateString(LANGUAGE, {
    day: "numeric",
    month: "short",
    ...(other && { year: "numeric" }),
  });
}

/** So many of a thing, in words: "1 tuning", "3 tunings". */
export function countOf(count: number, one: string, many = `${one}s`): string {
  return `${count.toLocaleString(LANGUAGE)} ${count === 1 ? one : many}`;
}

/** "G", "G and D", "G, D and A". */
export function listed(names: readonly string[]): string {
  return new Intl.ListFormat(LANGUAGE).format(names);
}
