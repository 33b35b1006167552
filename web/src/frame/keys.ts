/** The keyboard: one listener a component, never while typing. */
import { useEffect, useRef } from "react";
import { flushSync } from "react-dom";

/** Keys that one of us has used already. */
const ours = new WeakSet<KeyboardEvent>();

export type Keys = Record<string, (event: KeyboardEvent) => void>;

export function isTyping(target: EventTarget | null): boolean {
  if (!(target instanceof HTMLElement)) return false;
  return (
    target.isContentEditable ||
    ["INPUT", "TEXTAREA", "SELECT"].includes(target.tagName) ||
    target.getAttribute("role") === "combobox"
  );
}

export function useKeys(keys: Keys, on = true) {
  const latest = useRef(keys);
  useEffect(() => {
    latest.current = keys;
  });
  useEffect(() => {
    if (!on) return;
    const listen = (event: KeyboardEvent) => {
      const chord = `${event.ctrlKey || event.metaKey ? "ctrl+" : ""}${event.shiftKey && event.key.length > 1 ? "shift+" : ""}${event.key}`;
      // What a control did with the key itself is not done twice; two screens may each have their own use for it.
      if ((event.defaultPrevented && !ours.has(event)) || event.altKey || isTyping(event.target)) return;
      // A dialog has the keyboard to itself.
      if (
        document.querySelector('[role="dialog"], [role="presentation"].MuiModal-root') &&
        !["Escape"].includes(event.key)
      )
        return;
      const act = latest.current[chord] ?? latest.current[chord.toLowerCase()];
      if (act) {
        event.preventDefault();
        ours.add(event);
        // At once: the next key may come before React would have drawn this one.
        flushSync(() => act(event));
      }
    };
    window.addEventListener("keydown", listen);
    return () => window.removeEventListener("keydown", listen);
  }, [on]);
}
