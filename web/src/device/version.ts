/** The application itself on the device: kept by a worker of the browser, renewed when somebody says so. */
import { useEffect, useState } from "react";
import { registerSW } from "virtual:pwa-register";

const LOOK_MS = 30 * 60 * 1000;

/** What loads the newer version that waits; null while there is none. */
export function useNewVersion(): (() => void) | null {
  const [renew, setRenew] = useState<(() => void) | null>(null);
  useEffect(() => {
    if (!("serviceWorker" in navigator) || !import.meta.env.PROD) return;
    let timer = 0;
    const take = registerSW({
      immediate: true,
      onNeedRefresh: () => setRenew(() => () => void take(true)),
      onRegisteredSW: (_, registration) => {
        registration?.active?.postMessage({ type: "RENEW_PAGE" });
        timer = window.setInterval(() => void registration?.update().catch(() => undefined), LOOK_MS);
      },
    });
    return () => clearInterval(timer);
  }, []);
  return renew;
}
