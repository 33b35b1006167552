import type { Point } from "./SideView";

/** The aircraft from the side: nose along its pitch, fin up or down with the bank. */
export function Nose({
  point,
  x,
  y,
  colour,
  big = false,
}: {
  point: Pick<Point, "along" | "height" | "pitch" | "bank" | "heading">;
  x: (v: number) => number;
  y: (v: number) => number;
  colour: string;
  big?: boolean;
}) {
  const r = Math.PI / 180,
    size = big ? 13 : 7;
  const back = Math.cos(point.heading * r) < 0 ? -1 : 1;
  const pitch = point.pitch * r,
    up = Math.cos(point.bank * r) < 0 ? -1 : 1;
  const [cx, cy] = [x(point.along), y(point.height)];
  const [nx, ny] = [Math.cos(pitch) * back, -Math.sin(pitch)];
  const [ux, uy] = [-Math.sin(pitch) * back * up, -Math.cos(pitch) * up];
  const tail = [cx - nx * size, cy - ny * size];
  return (
    <g stroke={colour} fill={colour}>
      <path
        d={`M${tail[0]} ${tail[1]}L${cx + nx * size} ${cy + ny * size}`}
        strokeWidth={big ? 4 : 2.4}
        strokeLinecap="round"
      />
      <path
        d={`M${tail[0]} ${tail[1]}l${ux * size * 0.6} ${uy * size * 0.6}`}
        strokeWidth={big ? 3 : 2}
        strokeLinecap="round"
      />
      {big && <circle cx={cx + nx * size} cy={cy + ny * size} r="3" />}
    </g>
  );
}
