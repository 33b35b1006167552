import type { ReactNode } from "react";
import type { Trace } from "../api/types";
import { tokens } from "../theme";

const R = Math.PI / 180,
  W = 190,
  H = 124,
  PAD = 12;
/** Lengths of the scale, ft, of which the longest is drawn that leaves room for what it says. */
const BARS = [1000, 500, 200, 100],
  LABEL = 60;

export interface OnSide {
  x: (along: number) => number;
  y: (feet: number) => number;
  /** Of where it began (degrees). */ heading: number;
}

/** Along the direction in which it began: feet, negative behind. */
export function alongOf(east: number, north: number, heading: number): number {
  return east * Math.sin(heading * R) + north * Math.cos(heading * R);
}

/** A recorded figure from the side of where it began, to the same scale both ways; nothing where its way is not known. */
export function FlownSide({
  trace,
  title,
  size,
  over,
}: {
  trace: Trace;
  title: string;
  size: number;
  over?: (on: OnSide) => ReactNode;
}) {
  const { seconds, height_ft, east_ft, north_ft, heading_deg } = trace;
  const begins = Math.max(
    0,
    seconds.findIndex((s) => s >= 0),
  );
  const heading = heading_deg[begins];
  if (heading === undefined || east_ft.length === 0) return null;
  const along = east_ft.map((east, i) => alongOf(east, north_ft[i] ?? 0, heading));
  const [near, far] = [Math.min(...along), Math.max(...along)],
    [low, high] = [Math.min(...height_ft), Math.max(...height_ft)];
  const perFoot = Math.min(
    (W - 2 * PAD) / Math.max(200, far - near),
    (H - 2 * PAD) / Math.max(200, high - low),
  );
  const bar = BARS.find((ft) => ft * perFoot <= W - LABEL) ?? 0;
  const x = (ft: number) => W / 2 + (ft - (near + far) / 2) * perFoot,
    y = (ft: number) => H / 2 - (ft - (low + high) / 2) * perFoot;
  const d = along.map((ft, i) => `${x(ft).toFixed(1)},${y(height_ft[i] ?? 0).toFixed(1)}`).join("L");
  return (
    <svg
      viewBox={`0 0 ${W} ${H}`}
      width={size}
      style={{ display: "block", background: tokens.sky, borderRadius: 5 }}
      role="img"
      aria-label={`${title} as flown, from the side: ${feet(far - near)} ft along, ${feet(high - low)} ft high`}
    >
      <path d={`M0 ${H - 4}h${bar * perFoot}`} stroke={tokens.slate} strokeWidth="2" />
      <text x={4 + bar * perFoot} y={H - 1} fontSize="11" fill={tokens.slate}>
        {bar.toLocaleString("en")} ft
      </text>
      <path d={`M${d}`} fill="none" stroke={tokens.flown} strokeWidth="2.4" strokeLinejoin="round" />
      {over?.({ x, y, heading })}
    </svg>
  );
}

const feet = (value: number) => (Math.round(value / 10) * 10).toLocaleString("en");
