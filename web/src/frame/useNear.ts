import { useEffect, useRef, useState } from "react";

/** Whether an element has come near to what is seen of the page: what costs something is asked for then. */
export function useNear<E extends Element>() {
  const box = useRef<E>(null);
  const [near, setNear] = useState(typeof IntersectionObserver === "undefined");
  useEffect(() => {
    if (near || !box.current) return;
    const watch = new IntersectionObserver(
      (seen) => {
        if (seen.some((one) => one.isIntersecting)) setNear(true);
      },
      { rootMargin: "200px" },
    );
    watch.observe(box.current);
    return () => watch.disconnect();
  }, [near]);
  return { box, near };
}
