/** What can be gone to: what it is called, what stands beside it, and by which other words it is found. */
export interface Target {
  to: string;
  said: string;
  beside: string;
  words: string;
}

const MOST = 9;

/** What begins with what was typed, its own name first; every word typed must be found. */
export function found(targets: Target[], typed: string): Target[] {
  const asked = plain(typed).split(" ").filter(Boolean);
  if (asked.length === 0) return [];
  return targets
    .map((target) => ({ target, rank: rankOf(target, asked) }))
    .filter(({ rank }) => rank > 0)
    .sort((one, other) => other.rank - one.rank)
    .slice(0, MOST)
    .map(({ target }) => target);
}

function rankOf({ said, words }: Target, asked: string[]): number {
  const name = ` ${plain(said)}`;
  const all = `${name} ${plain(words)}`;
  if (!asked.every((word) => all.includes(` ${word}`))) return asked.every((word) => all.includes(word)) ? 1 : 0;
  const whole = ` ${asked.join(" ")}`;
  if (name === whole) return 4;
  return name.startsWith(whole) ? 3 : 2;
}

/** Whether a text has a word that begins with each word typed. */
export function fits(text: string, typed: string): boolean {
  const words = ` ${plain(text)}`;
  return plain(typed)
    .split(" ")
    .every((asked) => words.includes(` ${asked}`));
}

/** Small letters without accents; what is no letter or figure divides words. */
function plain(text: string): string {
  return text
    .normalize("NFKD")
    .replace(/\p{M}/gu, "")
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, " ")
    .trim();
}
