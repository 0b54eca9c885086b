import { useEffect, useState } from "react";

/** Whether something has been so for a while: what is over at once needn't be said. */
export function useLasting(is: boolean, ms: number): boolean {
  const [lasting, setLasting] = useState(false);
  useEffect(() => {
    const timer = setTimeout(
      () => {
        setLasting(is);
      },
      is ? ms : 0,
    );
    return () => {
      clearTimeout(timer);
    };
  }, [is, ms]);
  return lasting && is;
}

/** What is so now or was a moment ago: what can be pressed isn't gone before a finger is there. */
export function useLingering(is: boolean, ms: number): boolean {
  const [lingers, setLingers] = useState(is);
  useEffect(() => {
    const timer = setTimeout(
      () => {
        setLingers(is);
      },
      is ? 0 : ms,
    );
    return () => {
      clearTimeout(timer);
    };
  }, [is, ms]);
  return is || lingers;
}
