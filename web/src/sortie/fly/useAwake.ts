import { useEffect } from "react";

/** The screen does not go dark while the page is looked at, where the browser can see to that. */
export function useAwake() {
  useEffect(() => {
    let lock: WakeLockSentinel | null = null;
    let here = true;
    const hold = () => {
      if (document.visibilityState !== "visible" || !("wakeLock" in navigator)) return;
      navigator.wakeLock
        .request("screen")
        .then((held) => {
          if (here) lock = held;
          else void held.release();
        })
        .catch(() => undefined);
    };
    hold();
    document.addEventListener("visibilitychange", hold);
    return () => {
      here = false;
      document.removeEventListener("visibilitychange", hold);
      void lock?.release().catch(() => undefined);
    };
  }, []);
}
