import { Box } from "@mui/material";
import { scaleLinear, type ScaleLinear } from "d3-scale";
import type { ReactNode } from "react";
import type { FigureFound, Trace } from "../api/types";
import { useSize } from "../frame/useSize";
import { narrow, tokens, unseen } from "../theme";
import { Edges } from "./Edges";
import { Labels } from "./Labels";
import type { Label } from "./labels";

const L = 50,
  R = 12,
  T = 26,
  B = 22;

const TAPPED: Record<string, string> = {
  start_ft: "start",
  recover_ft: "recover",
  lowest_ft: "lowest",
  level_ft: "level",
};

export interface Scales {
  x: ScaleLinear<number, number>;
  y: ScaleLinear<number, number>;
  top: number;
  bottom: number;
  right: number;
}

interface Props {
  trace: Trace;
  found: FigureFound;
  /** Seconds and feet above the start, as briefed. */ profile: readonly (readonly number[])[];
  /** When it really began, after it was found to (s). */ begins_s?: number;
  floor_ft: number;
  title: string;
  /** Another flight of it: seconds since this one began, and feet above its start. */ beside?: {
    points: readonly (readonly [number, number])[];
    colour: string;
  } | null;
  /** What moves over it, by its scales. */ over?: (scales: Scales) => ReactNode;
  /** Its edges were shifted: seconds since it began, of both. */ onEdges?: (
    begins: number,
    ends: number,
  ) => void;
}

/** One figure as it was recorded: height over time, the phases of its loss behind it, and what was briefed from the height
 * at which it was begun. */
export function FigureTrace({
  trace,
  found,
  profile,
  begins_s = 0,
  floor_ft,
  title,
  beside,
  over,
  onEdges,
}: Props) {
  const { frame, size } = useSize<HTMLDivElement>({ width: 620, height: 230 });
  const { width: W, height: H } = size;
  const m = found.measured;
  const last = Math.max(trace.seconds.at(-1) ?? 1, 1);
  const briefed = profile
    .map(([s = 0, ft = 0]) => [s + begins_s, m.start_ft + ft] as const)
    .filter(([s]) => s <= last);
  const other = (beside?.points ?? [])
    .map(([s, ft]) => [s, m.start_ft + ft] as const)
    .filter(([s]) => s <= last && s >= (trace.seconds[0] ?? 0));
  const heights = [...trace.height_ft, ...briefed.map(([, ft]) => ft), ...other.map(([, ft]) => ft)];
  const lowest = Math.min(...heights),
    highest = Math.max(...heights);
  const room = Math.max(60, (highest - lowest) * 0.12);
  const x = scaleLinear()
    .domain([trace.seconds[0] ?? 0, last])
    .range([L, W - R]);
  const y = scaleLinear()
    .domain([lowest - room, highest + room])
    .range([H - B, T]);
  const line = (points: readonly (readonly [number, number])[]) =>
    points.map(([s, ft]) => `${x(s).toFixed(1)},${y(ft).toFixed(1)}`).join("L");
  const flown = trace.seconds.map((s, i) => [s, trace.height_ft[i] ?? 0] as const);
  // From the start to the lowest, as the attempt has them: no rounding hides that a line was crossed.
  const borders = m.phases.reduce((at, p) => [...at, (at.at(-1) ?? 0) - p.lost_ft], [m.start_ft]).map(tens);
  borders[borders.length - 1] = Math.floor(m.lowest_ft / 10) * 10;
  const phases = m.phases.map((phase, i) => {
    const from = m.phases.slice(0, i).reduce((sum, p) => sum + p.seconds, 0);
    const lost = (borders[i] ?? 0) - (borders[i + 1] ?? 0);
    return { ...phase, from, to: from + phase.seconds, lost: lost.toLocaleString("en") };
  });
  const low = m.lowest_s - m.begins_s;
  const tapped = found.taps
    .map((tap) => ({ words: TAPPED[tap.what] ?? tap.what, s: tap.at_s - m.begins_s }))
    .filter(({ s }) => s >= (trace.seconds[0] ?? 0) && s <= last);
  const lowestRead = (borders.at(-1) ?? 0).toLocaleString("en");
  const labels: Label[] = [
    {
      words: `lowest ${lowestRead}`,
      x: x(low) - 6,
      y: y(m.lowest_ft) + 14,
      anchor: "end",
      bold: true,
      colour: tokens.flown,
      tries: [[12, 0, "start"]],
    },
    ...phases.map((phase) => ({
      words: [`${phase.name}, ${phase.lost} ft`, phase.name, `${phase.lost} ft`],
      x: x((phase.from + phase.to) / 2),
      y: T - 10,
      anchor: "middle" as const,
      colour: tokens.slate,
      optional: true,
    })),
    ...tapped.map(({ words, s }) => ({
      words: [`tapped ${words}`, words],
      x: x(s) + 4,
      y: H - B - 4,
      anchor: "start" as const,
      colour: tokens.mindInk,
      optional: true,
    })),
  ];
  return (
    <Box
      ref={frame}
      sx={{ position: "relative", minWidth: 0, minHeight: 180, height: "100%", bgcolor: tokens.sheet }}
    >
      <svg
        width={W}
        height={H}
        style={{ ...narrow, fontSize: 12, display: "block", position: "absolute" }}
        role="img"
        aria-label={`${title} as recorded: from ${(borders[0] ?? 0).toLocaleString("en")} ft to ${lowestRead} ft`}
      >
        {phases.map((phase, i) => (
          <rect
            key={phase.name}
            x={x(phase.from)}
            y={T}
            width={Math.max(0, x(phase.to) - x(phase.from))}
            height={H - B - T}
            fill={i % 2 === 0 ? tokens.flownPale : tokens.sky}
            opacity="0.6"
          />
        ))}
        {y.ticks(5).map((ft) => (
          <g key={ft}>
            <path d={`M${L} ${y(ft)}H${W - R}`} stroke={tokens.hairline} strokeWidth="0.7" />
            <text x={L - 6} y={y(ft) + 4} textAnchor="end" fill={tokens.slate}>
              {ft.toLocaleString("en")}
            </text>
          </g>
        ))}
        {x.ticks(Math.min(10, Math.round(last))).map((s) => (
          <text key={s} x={x(s)} y={H - 7} textAnchor="middle" fill={tokens.slate}>
            {s} s
          </text>
        ))}
        {y(floor_ft) < H - B && (
          <path d={`M${L} ${y(floor_ft)}H${W - R}`} stroke={tokens.stop} strokeWidth="2.2" />
        )}
        <path
          d={`M${line(briefed)}`}
          fill="none"
          stroke={tokens.plan}
          strokeWidth="2"
          strokeDasharray="6 4"
        />
        <path
          d={`M${line(flown)}`}
          fill="none"
          stroke={tokens.flown}
          strokeWidth="2.8"
          strokeLinejoin="round"
        />
        {beside && other.length > 1 && (
          <path
            d={`M${line(other)}`}
            fill="none"
            stroke={beside.colour}
            strokeWidth="2"
            strokeDasharray="2 4"
          />
        )}
        {tapped.map(({ words, s }) => (
          <path key={words} d={`M${x(s)} ${H - B}v-9`} stroke={tokens.mindInk} strokeWidth="2.5" />
        ))}
        <circle cx={x(low)} cy={y(m.lowest_ft)} r="4" fill={tokens.flown} />
        <Labels labels={labels} room={{ left: L, right: W - R, top: 0, bottom: H - B }} />
      </svg>
      {over && (
        <svg width={W} height={H} style={{ position: "absolute", pointerEvents: "none" }} aria-hidden>
          {over({ x, y, top: T, bottom: H - B, right: W - R })}
        </svg>
      )}
      {onEdges && (
        <svg width={W} height={H} style={{ position: "absolute", pointerEvents: "none" }}>
          <Edges
            key={`${m.begins_s} ${m.ends_s}`}
            x={x}
            top={T}
            bottom={H - B}
            ends={m.ends_s - m.begins_s}
            onEdges={onEdges}
          />
        </svg>
      )}
      <Box sx={unseen}>
        {phases.map((p) => `${p.name}: ${p.lost} ft in ${p.seconds.toFixed(1)} s`).join("; ")}
        {tapped.map(({ words, s }) => `; ${words} was tapped ${s.toFixed(0)} s after it began`).join("")}
      </Box>
    </Box>
  );
}

const tens = (ft: number) => Math.round(ft / 10) * 10;
