/** Whether the server answered last time, and since when it does not. */
import { useSyncExternalStore } from "react";

let away: number | null = null;
const listeners = new Set<() => void>();

export function setOnline(online: boolean) {
  if (online === (away === null)) return;
  away = online ? null : Date.now();
  for (const tell of listeners) tell();
}

/** In ms; null while the server answers. */
export function useOfflineSince(): number | null {
  return useSyncExternalStore(
    (tell) => {
      listeners.add(tell);
      return () => void listeners.delete(tell);
    },
    () => away,
  );
}
