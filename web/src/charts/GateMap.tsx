import { Box } from "@mui/material";
import { scaleLinear } from "d3-scale";
import { memo, useRef, useState } from "react";
import type { GateMap as Map } from "../api/types";
import { useSize } from "../frame/useSize";
import { narrow, tokens, unseen } from "../theme";

const styles = {
  reading: { ...narrow, fontSize: 13, lineHeight: 1.3 },
} as const;

interface Props {
  map: Map;
  unit: string;
  speed: number;
  pull: number;
  onPoint?: (speed: number, pull: number, gesture: string) => void;
}

const H = 200,
  L = 26,
  R = 6,
  T = 8,
  B = 42;
// Colour and pattern: no colour carries meaning alone.
type Verdict = Map["verdict"][number][number];
const FILLS: Record<Verdict, string> = {
  fine: tokens.finePale,
  "too slow": "url(#too-slow)",
  "too fast": "url(#too-fast)",
  "too hard": "url(#too-hard)",
  "over the block": "url(#over-block)",
};
const LEGEND = Object.keys(FILLS) as Verdict[];

/** Entry speed by pull: what comes of each pair; the plan's own pair can be dragged, or moved with the arrow keys. */
export const GateMap = memo(function GateMap({ map, unit, speed, pull, onPoint }: Props) {
  const { frame, size } = useSize<HTMLDivElement>({ width: 236, height: H });
  const W = Math.max(160, size.width);
  const box = useRef<SVGSVGElement>(null);
  const gesture = useRef("");
  const [held, setHeld] = useState(false);
  const speeds = map.speeds,
    pulls = map.pulls;
  const [low = 0, high = 1] = [speeds[0], speeds[speeds.length - 1]],
    [soft = 0, hard = 1] = [pulls[0], pulls[pulls.length - 1]];
  const x = scaleLinear()
      .domain([low, high])
      .range([L, W - R]),
    y = scaleLinear()
      .domain([soft, hard])
      .range([H - B, T]);
  const across = Math.max(2, Math.floor(W / 80));
  const wide = (W - R - L) / (speeds.length - 1),
    tall = (H - B - T) / (pulls.length - 1);
  const i = nearest(speeds, speed),
    j = nearest(pulls, pull);
  const verdict = map.verdict[i]?.[j] ?? "fine",
    lost = map.lost_ft[i]?.[j];
  const pointAt = (e: React.PointerEvent) => {
    const rect = box.current?.getBoundingClientRect();
    if (!rect) return;
    const px = ((e.clientX - rect.left) * W) / rect.width,
      py = ((e.clientY - rect.top) * H) / rect.height;
    onPoint?.(
      Math.round(clamp(x.invert(px), low, high)),
      Math.round(clamp(y.invert(py), soft, hard) * 10) / 10,
      gesture.current,
    );
  };
  return (
    <Box ref={frame} sx={{ minWidth: 0, position: "relative" }}>
      <svg
        ref={box}
        width={W}
        height={H}
        style={{
          ...narrow,
          fontSize: 12,
          display: "block",
          touchAction: "none",
          cursor: onPoint ? "crosshair" : undefined,
        }}
        role="group"
        aria-label="Entry speed by pull"
        onPointerDown={
          onPoint &&
          ((e) => {
            e.currentTarget.setPointerCapture(e.pointerId);
            gesture.current = `held map ${e.timeStamp}`;
            setHeld(true);
            pointAt(e);
          })
        }
        onPointerMove={
          onPoint &&
          ((e) => {
            if (held) pointAt(e);
          })
        }
        onPointerUp={() => setHeld(false)}
        onPointerCancel={() => setHeld(false)}
      >
        <defs>
          <pattern id="too-slow" width="6" height="6" patternUnits="userSpaceOnUse">
            <rect width="6" height="6" fill={tokens.mindPale} />
            <circle cx="3" cy="3" r="1" fill={tokens.mind} />
          </pattern>
          <pattern id="too-hard" width="6" height="6" patternUnits="userSpaceOnUse">
            <rect width="6" height="6" fill={tokens.hardPale} />
          </pattern>
          <pattern
            id="too-fast"
            width="6"
            height="6"
            patternUnits="userSpaceOnUse"
            patternTransform="rotate(45)"
          >
            <rect width="6" height="6" fill={tokens.stopPale} />
            <rect width="2" height="6" fill={tokens.stop} opacity="0.5" />
          </pattern>
          <pattern id="over-block" width="6" height="6" patternUnits="userSpaceOnUse">
            <rect width="6" height="6" fill={tokens.flownPale} />
            <rect width="6" height="1.6" fill={tokens.flown} opacity="0.5" />
          </pattern>
        </defs>
        {runs(map.verdict).map((run) => (
          <rect
            key={`${run.i}-${run.from}`}
            x={x(speeds[run.i] ?? 0) - wide / 2}
            y={y(pulls[run.to] ?? 0) - tall / 2}
            width={wide + 0.4}
            height={(run.to - run.from + 1) * tall + 0.4}
            fill={FILLS[run.verdict]}
            shapeRendering="crispEdges"
          />
        ))}
        <path d={`M${L} ${T}V${H - B}H${W - R}`} fill="none" stroke={tokens.slate} />
        {x.ticks(5).map((v) => (
          <text key={v} x={x(v)} y={H - B + 12} textAnchor="middle" fill={tokens.slate}>
            {v}
          </text>
        ))}
        {y.ticks(5).map((g) => (
          <text key={g} x={L - 5} y={y(g) + 4} textAnchor="end" fill={tokens.slate}>
            {g}
          </text>
        ))}
        <text x={W - R} y={H - B - 4} textAnchor="end" fill={tokens.slate}>
          {unit}
        </text>
        <text x={L + 4} y={T + 10} fill={tokens.slate}>
          g
        </text>
        {LEGEND.filter((v) => map.verdict.some((row) => row.includes(v))).map((v, k) => (
          <g
            key={v}
            transform={`translate(${2 + (k % across) * 80} ${H - 24 + Math.floor(k / across) * 13})`}
          >
            <rect width="11" height="9" fill={FILLS[v]} stroke={tokens.slate} strokeWidth="0.6" />
            <text x="15" y="9" fill={tokens.ink} fontSize="12">
              {v}
            </text>
          </g>
        ))}
        <g
          role={onPoint ? "slider" : "img"}
          tabIndex={onPoint ? 0 : -1}
          aria-label={
            onPoint
              ? "Entry speed and pull of the plan"
              : `Entry ${Math.round(speed)} ${unit}, ${pull.toFixed(1)} g: ${verdict}`
          }
          aria-valuenow={onPoint ? speed : undefined}
          aria-valuemin={onPoint ? low : undefined}
          aria-valuemax={onPoint ? high : undefined}
          aria-valuetext={
            onPoint ? `${Math.round(speed)} ${unit}, ${pull.toFixed(1)} g: ${verdict}` : undefined
          }
          onKeyDown={
            onPoint &&
            ((e) => {
              const [dv, dg] = (
                { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 0.1], ArrowDown: [0, -0.1] } as Record<
                  string,
                  [number, number]
                >
              )[e.key] ?? [0, 0];
              if (!dv && !dg) return;
              e.preventDefault();
              onPoint(
                Math.round(clamp(speed + dv, low, high)),
                Math.round(clamp(pull + dg, soft, hard) * 10) / 10,
                "map keys",
              );
            })
          }
        >
          <circle cx={x(clamp(speed, low, high))} cy={y(clamp(pull, soft, hard))} r="15" fill="transparent" />
          <circle
            cx={x(clamp(speed, low, high))}
            cy={y(clamp(pull, soft, hard))}
            r="6.5"
            fill={tokens.plan}
            stroke={tokens.sheet}
            strokeWidth="2"
          />
        </g>
      </svg>
      <Box role="status" sx={styles.reading}>
        {Math.round(speed)} {unit}, {pull.toFixed(1)} g: <b>{verdict}</b>
        {lost != null && verdict === "fine"
          ? `, loses ${Math.max(0, Math.ceil(lost / 10) * 10).toLocaleString("en")} ft`
          : ""}
      </Box>
      <Box sx={unseen}>{summary(map, unit)}</Box>
    </Box>
  );
});

/** In words: the speeds that are fine at a few pulls. */
function summary(map: Map, unit: string): string {
  return map.pulls
    .filter((_, j) => j % 4 === 0)
    .map((pull) => {
      const j = map.pulls.indexOf(pull);
      const fine = map.speeds.filter((_, i) => map.verdict[i]?.[j] === "fine");
      return `${pull.toFixed(1)} g: ${fine.length ? `fine from ${Math.round(fine[0] ?? 0)} to ${Math.round(fine[fine.length - 1] ?? 0)} ${unit}` : "no speed is fine"}`;
    })
    .join(". ");
}

/** Cells of one verdict above each other, drawn as one. */
function runs(verdict: Map["verdict"]): Run[] {
  return verdict.flatMap((row, i) => {
    const found: Run[] = [];
    row.forEach((v, j) => {
      const last = found[found.length - 1];
      if (last?.verdict === v) last.to = j;
      else found.push({ i, from: j, to: j, verdict: v });
    });
    return found;
  });
}

interface Run {
  i: number;
  from: number;
  to: number;
  verdict: Verdict;
}

function nearest(values: readonly number[], to: number): number {
  return values.reduce((best, v, i) => (Math.abs(v - to) < Math.abs((values[best] ?? 0) - to) ? i : best), 0);
}

function clamp(value: number, least: number, most: number): number {
  return Math.max(least, Math.min(most, value));
}
