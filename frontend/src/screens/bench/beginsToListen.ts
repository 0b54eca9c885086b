import { useEffect } from "react";
import { useLocation, useNavigationType } from "react-router";

/** Where this is given along on the way to a bench, its microphone begins by itself: the press that led there is the leave for it. */
export const BEGINS_TO_LISTEN = { listens: true } as const;

/** Begin to listen once, for whoever was sent here so; a page that is loaded again waits for a press. */
export function useBeginsToListen(begin: () => void): void {
  const told = useLocation().state as typeof BEGINS_TO_LISTEN | null;
  const sent = useNavigationType() === "PUSH" && told?.listens === true;
  useEffect(() => {
    if (sent) begin();
    // Once, however often what begins it is made anew.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, []);
}
