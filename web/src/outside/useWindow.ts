/** The three-dimensional view, fetched when a picture of it is first shown. */
import { useSyncExternalStore } from "react";
import type { Look } from "./window";

/** null: not here, or not yet. */
let look: Look | null = null;
let asked = false;
const listeners = new Set<() => void>();

function tell(found: Look | null) {
  look = found;
  for (const listener of listeners) listener();
}

/** Where the browser draws in three dimensions, and the part of the program can be fetched. */
function ask() {
  if (asked || typeof WebGL2RenderingContext === "undefined") return;
  asked = true;
  import("./window")
    .then(({ openWindow }) => openWindow())
    .then(tell, (why: unknown) => {
      console.info("The simple picture out of the window", why);
      tell(null);
    });
}

function subscribe(listener: () => void) {
  listeners.add(listener);
  ask();
  return () => void listeners.delete(listener);
}

export function useWindow(): Look | null {
  return useSyncExternalStore(subscribe, () => look);
}

/** It does not draw any more: the simple picture from here on. */
export const closeWindow = () => tell(null);
