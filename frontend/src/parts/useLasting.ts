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
