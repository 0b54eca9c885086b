import { useEffect, useState } from "react";

import { useAway } from "../../api/connection";
import { ago } from "../../parts/figures";
import { useLasting } from "../../parts/useLasting";

const SOON_MS = 1000;

/** While the server can't be asked: of when it is what stands here. */
export function AsLastSeen({ at }: { at: number }) {
  const away = useLasting(useAway(), SOON_MS);
  const [now, setNow] = useState(Date.now);
  useEffect(() => {
    if (!away) return undefined;
    const timer = setInterval(() => {
      setNow(Date.now());
    }, 10_000);
    return () => {
      clearInterval(timer);
    };
  }, [away]);
  if (!away) return null;
  return <p className="text-pencil">As it was last seen, {ago(new Date(at).toISOString(), Math.max(now, at))}.</p>;
}
