import { useEffect } from "react";

/** Keep the screen on while `wanted`: a tablet on a stand that listens goes to sleep otherwise, and its microphone with it. */
export function useAwake(wanted: boolean): void {
  useEffect(() => {
    // Not every browser can; then the device does what it is set to.
    const locks = (navigator as { wakeLock?: WakeLock }).wakeLock;
    if (!wanted || locks === undefined) return;
    let lock: WakeLockSentinel | null = null;
    let over = false;
    const ask = async () => {
      if (document.visibilityState !== "visible") return;
      const got = await locks.request("screen").catch(() => null); // refused, as where the battery is low
      if (over) void got?.release();
      else lock = got;
    };
    const again = () => void ask();
    again();
    document.addEventListener("visibilitychange", again); // a page out of sight loses it
    return () => {
      over = true;
      document.removeEventListener("visibilitychange", again);
      void lock?.release();
    };
  }, [wanted]);
}
