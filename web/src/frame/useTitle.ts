import { useEffect } from "react";

/** What the window is called: the screen, then the program. */
export function useTitle(screen: string) {
  useEffect(() => {
    document.title = `${screen} · Keel Turn`;
  }, [screen]);
}
