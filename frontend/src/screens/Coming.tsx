import { useAway } from "../api/connection";
import { useNewer } from "../api/newer";
import { useLasting } from "../parts/useLasting";

const SOON_MS = 400;

/** What stands while a screen is on its way: nothing at first, then words. */
export function Coming() {
  const away = useAway();
  const newer = useNewer();
  const slow = useLasting(true, SOON_MS);
  if (!slow && !away && !newer) return null;
  return (
    <main role="status" className="mx-auto max-w-xl px-5 py-10 text-xl">
      {newer && "Pondus was updated since this page was opened; the new one is being loaded. What you entered is kept."}
      {!newer && away && "Pondus doesn’t answer just now. This page comes by itself as soon as it does."}
      {!newer && !away && "Fetching the page…"}
    </main>
  );
}
