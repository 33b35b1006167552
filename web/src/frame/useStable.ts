import { useCallback, useEffect, useRef } from "react";

/** The same function at every drawing, doing what the latest one does: for children that are drawn only when something changed. */
export function useStable<A extends unknown[]>(act: (...args: A) => void): (...args: A) => void {
  const latest = useRef(act);
  useEffect(() => {
    latest.current = act;
  });
  return useCallback((...args: A) => latest.current(...args), []);
}
