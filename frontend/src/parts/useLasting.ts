import { useEffect, useState } from "react";

/** Whether something has been so for a while: what is over at once needn't be said. */
export function useLasting(is: boolean, ms: number): boolean {
  return useLate(is, ms, 0) && is;
}

/** What is so now or was a moment ago: what can be pressed isn't gone before a finger is there. */
export function useLingering(is: boolean, ms: number): boolean {
  return useLate(is, 0, ms) || is;
}

/** What is so, told so many milliseconds late when it begins, and so many when it ends. */
function useLate(is: boolean, beginsMs: number, endsMs: number): boolean {
  const [late, setLate] = useState(false);
  useEffect(() => {
    const timer = setTimeout(
      () => {
        setLate(is);
      },
      is ? beginsMs : endsMs,
    );
    return () => {
      clearTimeout(timer);
    };
  }, [is, beginsMs, endsMs]);
  return late;
}
