import type { ScaleLinear } from "d3-scale";
import { useEffect, useRef, useState } from "react";
import { tokens } from "../theme";

const STEP_S = 0.2,
  LONG_S = 1,
  SHORTEST_S = 1,
  PAUSE_MS = 900;

interface Props {
  x: ScaleLinear<number, number>;
  top: number;
  bottom: number;
  /** Seconds since it began. */ ends: number;
  onEdges: (begins: number, ends: number) => void;
}

/** Where a figure begins and ends, to be shifted by mouse or by arrow keys (with Shift by a second); told a moment after
 * the last move. */
export function Edges({ x, top, bottom, ends, onEdges }: Props) {
  const [at, setAt] = useState<[number, number]>([0, ends]);
  const told = useRef(onEdges);
  useEffect(() => {
    told.current = onEdges;
  });
  const moved = at[0] !== 0 || at[1] !== ends;
  const [held, setHeld] = useState(false);
  useEffect(() => {
    if (!moved || held) return;
    const timer = setTimeout(() => told.current(at[0], at[1]), PAUSE_MS);
    return () => clearTimeout(timer);
  }, [at, moved, held]);
  const [first = 0, last = ends] = x.domain();
  const put = (which: 0 | 1, seconds: number) =>
    setAt(([a, b]) => {
      const rounded = Math.round(seconds * 10) / 10;
      return which === 0
        ? [Math.min(Math.max(rounded, first), b - SHORTEST_S), b]
        : [a, Math.max(Math.min(rounded, last), a + SHORTEST_S)];
    });
  const edge = (which: 0 | 1, words: string) => (
    <g
      role="slider"
      tabIndex={0}
      aria-label={words}
      aria-valuemin={first}
      aria-valuemax={last}
      aria-valuenow={Math.round(at[which] * 10) / 10}
      aria-valuetext={`${at[which].toFixed(1)} s after it was found to begin`}
      style={{ cursor: "ew-resize", touchAction: "none", pointerEvents: "auto" }}
      onKeyDown={(e) => {
        const way = e.key === "ArrowLeft" ? -1 : e.key === "ArrowRight" ? 1 : 0;
        if (way === 0) return;
        e.preventDefault();
        e.stopPropagation();
        put(which, at[which] + way * (e.shiftKey ? LONG_S : STEP_S));
      }}
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        setHeld(true);
      }}
      onPointerMove={(e) => {
        if (!e.currentTarget.hasPointerCapture(e.pointerId)) return;
        const box = e.currentTarget.ownerSVGElement?.getBoundingClientRect();
        if (box) put(which, x.invert(e.clientX - box.left));
      }}
      onPointerUp={() => setHeld(false)}
      onPointerCancel={() => setHeld(false)}
    >
      <rect x={x(at[which]) - 12} y={top} width="24" height={bottom - top} fill="transparent" />
      <path
        d={`M${x(at[which])} ${top}V${bottom}`}
        stroke={tokens.flown}
        strokeWidth={moved ? 2.4 : 1.4}
        strokeDasharray="2 3"
      />
      <rect
        x={x(at[which]) - 4}
        y={(top + bottom) / 2 - 12}
        width="8"
        height="24"
        rx="3"
        fill={tokens.sheet}
        stroke={tokens.flown}
        strokeWidth="1.4"
      />
    </g>
  );
  return (
    <>
      {edge(0, "Begins")}
      {edge(1, "Ends")}
    </>
  );
}
