import { studioZone } from "../api/studioZone";

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

/** The first of many names; how many more there are. */
export function someOf(names: string[], most = 8): string {
  const more = names.length - most;
  return more > 1 ? `${names.slice(0, most).join(", ")} and ${more.toLocaleString(LANGUAGE)} more` : names.join(", ");
}

/** A day or a moment. A bare day (2026-07-04) is that day everywhere. */
export function written(at: string | number | Date, how: Intl.DateTimeFormatOptions): string {
  const bare = typeof at === "string" && !at.includes("T");
  return new Intl.DateTimeFormat(LANGUAGE, { ...how, timeZone: bare ? "UTC" : studioZone() }).format(new Date(at));
}

/** A day in full, with its weekday. */
export function longDay(day: Date): string {
  return written(day, { weekday: "long", day: "numeric", month: "long", year: "numeric" });
}

/** The time of day. */
export function clockTime(at: string | number, seconds = false): string {
  return written(at, { hour: "2-digit", minute: "2-digit", ...(seconds && { second: "2-digit" }) });
}

/** A day, short: with its year where that isn't this one. */
export function shortDay(at: string | number): string {
  const year = (of: string | number) => written(of, { year: "numeric" });
  const other = year(at) !== year(Date.now());
  return written(at, { day: "numeric", month: "short", ...(other && { year: "numeric" }) });
}

/** Today by the studio's clock, as a field for a day takes it. */
export function today(): string {
  return new Intl.DateTimeFormat("sv-SE", { timeZone: studioZone() }).format(new Date());
}

/** So many of a thing, in words: "1 tuning", "3 tunings". */
export function countOf(count: number, one: string, many = `${one}s`): string {
  return `${count.toLocaleString(LANGUAGE)} ${count === 1 ? one : many}`;
}

/** "G", "G and D", "G, D and A". */
export function listed(names: readonly string[]): string {
  return new Intl.ListFormat(LANGUAGE).format(names);
}
