import { useEffect, useRef, useState } from "react";

/** The size of an element in pixels, so that a picture is drawn at its own size and its words stay readable. */
export function useSize<E extends HTMLElement>(first: { width: number; height: number }) {
  const frame = useRef<E>(null);
  const [size, setSize] = useState(first);
  useEffect(() => {
    const box = frame.current;
    if (!box) return;
    // Hidden (in print, say) it keeps the size it had.
    const watch = new ResizeObserver(() => {
      if (box.clientWidth > 0) setSize({ width: box.clientWidth, height: box.clientHeight });
    });
    watch.observe(box);
    return () => watch.disconnect();
  }, []);
  return { frame, size };
}
