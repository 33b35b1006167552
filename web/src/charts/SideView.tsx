import { Box } from "@mui/material";
import { scaleLinear } from "d3-scale";
import type { SideView as Side } from "../api/types";
import { useSize } from "../frame/useSize";
import { narrow, tokens, unseen } from "../theme";
import { Labels } from "./Labels";
import { around } from "./labels";
import { Nose } from "./Nose";

interface Line {
  words: string;
  feet: number;
  colour: string;
  dashed?: boolean;
}
interface Props {
  side: Side;
  title: string;
  unit: string;
  lines: Line[];
  height: number;
  /** Index of the point where the aircraft is drawn. */ at?: number;
  onMoment?: (at: number) => void;
}

/** Where the aircraft is at one point of its path, and how it stands. */
export interface Point {
  seconds: number;
  along: number;
  across: number;
  height: number;
  pitch: number;
  bank: number;
  heading: number;
  ias: number;
  g: number;
}

export function pointsOf(side: Side): Point[] {
  return side.seconds.map((seconds, i) => ({
    seconds,
    along: side.along_ft[i] ?? 0,
    across: side.across_ft[i] ?? 0,
    height: side.height_ft[i] ?? 0,
    pitch: side.pitch_deg[i] ?? 0,
    bank: side.bank_deg[i] ?? 0,
    heading: side.heading_deg[i] ?? 0,
    ias: side.ias[i] ?? 0,
    g: side.g[i] ?? 1,
  }));
}

const NOWHERE: Point = {
  seconds: 0,
  along: 0,
  across: 0,
  height: 0,
  pitch: 0,
  bank: 0,
  heading: 0,
  ias: 0,
  g: 1,
};

/** The point at this index, or the nearest there is. */
export function nearestPoint(points: Point[], at: number): Point {
  return points[Math.max(0, Math.min(points.length - 1, at))] ?? NOWHERE;
}

const ROOM = { left: 48, right: 146, top: 18, bottom: 24 };

/** The path seen from the side, to the same scale both ways: where the aircraft is, how its nose stands, speed and g at the gates. */
export function SideView({ side, title, unit, lines, height, at, onMoment }: Props) {
  const {
    frame,
    size: { width },
  } = useSize<HTMLDivElement>({ width: 480, height });
  const points = pointsOf(side);
  const first = nearestPoint(points, 0),
    last = nearestPoint(points, points.length - 1);
  const heights = [...points.map((p) => p.height), ...lines.map((l) => l.feet)];
  const alongs = points.map((p) => p.along);
  const low = Math.min(...heights) - 60,
    high = Math.max(...heights) + 90,
    near = Math.min(...alongs),
    far = Math.max(...alongs);
  const across = Math.max(60, width - ROOM.left - ROOM.right - 28),
    down = height - ROOM.top - ROOM.bottom;
  const perFoot = Math.min(down / (high - low), across / Math.max(200, far - near));
  const middle = (near + far) / 2,
    reach = across / perFoot / 2,
    pad = 14;
  const x = scaleLinear()
    .domain([middle - reach, middle + reach])
    .range([ROOM.left + pad, width - ROOM.right - pad]);
  const top = low + down / perFoot;
  const y = scaleLinear()
    .domain([low, top])
    .range([height - ROOM.bottom, ROOM.top]);
  const d = points.map((p) => `${x(p.along).toFixed(1)},${y(p.height).toFixed(1)}`).join("L");
  const ticks = tickPoints(points, perFoot);
  const here = at === undefined ? null : nearestPoint(points, at);
  const gates = [first, last];
  return (
    <Box ref={frame} sx={{ position: "relative", minWidth: 0 }}>
      <svg
        width={width}
        height={height}
        style={{ ...narrow, fontSize: 12, display: "block", background: tokens.sky }}
        role="img"
        aria-label={`${title} from the side: from ${feet(first.height)} to ${feet(last.height)} ft, ${feet(far - near)} ft along`}
      >
        {y.ticks(5).map((ft) => (
          <g key={ft}>
            <path d={`M${ROOM.left} ${y(ft)}H${width - ROOM.right}`} stroke={tokens.hairline} />
            <text x={ROOM.left - 6} y={y(ft) + 4} textAnchor="end" fill={tokens.slate}>
              {ft.toLocaleString("en")}
            </text>
          </g>
        ))}
        {x.ticks(Math.max(2, Math.floor(across / 62))).map((ft) => (
          <text key={ft} x={x(ft)} y={height - 9} textAnchor="middle" fill={tokens.slate}>
            {ft.toLocaleString("en")}
            {ft === 0 ? " ft" : ""}
          </text>
        ))}
        {apart(
          lines.map((line) => ({ ...line, at: y(line.feet) })),
          15,
          height - ROOM.bottom,
        ).map((line) => (
          <g key={line.words}>
            <path
              d={`M${ROOM.left} ${line.at}H${width - ROOM.right}`}
              stroke={line.colour}
              strokeWidth="1.8"
              strokeDasharray={line.dashed ? "5 3" : undefined}
            />
            <text x={width - ROOM.right + 6} y={line.y + 4} fill={line.colour} fontWeight="660">
              {line.words}
            </text>
          </g>
        ))}
        <path d={`M${d}`} fill="none" stroke={tokens.plan} strokeWidth="2.6" strokeLinejoin="round" />
        {ticks.map((i) => (
          <Nose key={i} point={nearestPoint(points, i)} x={x} y={y} colour={tokens.plan} />
        ))}
        {side.moments.map((moment) => {
          const p = nearestPoint(points, moment.at);
          return (
            <g
              key={moment.at}
              onClick={onMoment && (() => onMoment(moment.at))}
              style={{ cursor: onMoment ? "pointer" : undefined }}
            >
              <circle
                cx={x(p.along)}
                cy={y(p.height)}
                r="4"
                fill={tokens.sheet}
                stroke={tokens.ink}
                strokeWidth="1.6"
              />
            </g>
          );
        })}
        <Labels
          labels={gates.map((p, i) => ({
            words: [
              `${i ? "out" : "in"} ${Math.round(p.ias)} ${unit}, ${p.g.toFixed(1)} g`,
              `${Math.round(p.ias)} ${unit}`,
            ],
            x: x(p.along) + (i ? 8 : -2),
            y: y(p.height) + (i ? 16 : -11),
            bold: true,
            colour: tokens.ink,
            tries: [
              [0, -27],
              [0, 27],
              [-10, 0, "end"],
              [-10, -27, "end"],
            ],
          }))}
          taken={[
            ...side.moments.map((m) =>
              around(x(nearestPoint(points, m.at).along), y(nearestPoint(points, m.at).height), 5),
            ),
            ...lines.map((l) => ({ left: 0, right: width, top: y(l.feet) - 2, bottom: y(l.feet) + 2 })),
          ]}
          room={{ left: ROOM.left, right: width - ROOM.right + 4, top: 2, bottom: height - ROOM.bottom }}
        />
        {here && <Nose point={here} x={x} y={y} colour={tokens.stop} big />}
      </svg>
      <Box component="ul" sx={unseen}>
        {side.moments.map((m) => {
          const p = nearestPoint(points, m.at);
          return (
            <li key={m.at}>
              {m.words}: {feet(p.height)} ft, {Math.round(p.ias)} {unit}, {p.g.toFixed(1)} g, nose{" "}
              {Math.round(p.pitch)} degrees, bank {Math.round(p.bank)}
            </li>
          );
        })}
      </Box>
    </Box>
  );
}

/** Points far enough apart on the picture to carry a mark. */
function tickPoints(points: Point[], perFoot: number): number[] {
  const found: number[] = [];
  let last = [-1e9, -1e9];
  points.forEach((p, i) => {
    if (Math.hypot((p.along - (last[0] ?? 0)) * perFoot, (p.height - (last[1] ?? 0)) * perFoot) < 34) return;
    found.push(i);
    last = [p.along, p.height];
  });
  return found;
}

/** Labels pushed apart so that none lies on another. */
export function apart<L extends { at: number }>(
  lines: L[],
  least: number,
  bottom: number,
): (L & { y: number })[] {
  let last = -Infinity;
  const placed = [...lines]
    .sort((a, b) => a.at - b.at)
    .map((line) => {
      last = Math.max(line.at, last + least);
      return { ...line, y: last };
    });
  const over = Math.max(0, last - bottom);
  return placed.map((line, i) => ({ ...line, y: Math.max(line.y - over, ROOM.top + i * least) }));
}

function feet(value: number): string {
  return (Math.round(value / 10) * 10).toLocaleString("en");
}
