import { useAway } from "../api/connection";
import { useLasting } from "../parts/useLasting";

const SOON_MS = 400;

/** What stands while a screen is on its way: nothing at first, then words. */
export function Coming() {
  const away = useAway();
  const slow = useLasting(true, SOON_MS);
  if (!slow && !away) return null;
  return (
    <main role="status" className="mx-auto max-w-xl px-5 py-10 text-xl">
      {away
        ? "Pondus doesn’t answer just now. This page comes by itself as soon as it does."
        : "Fetching the page…"}
    </main>
  );
}
