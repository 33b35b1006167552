import { Box } from "@mui/material";
import { scaleLinear } from "d3-scale";
import type { FigureAnswer, PlanAnswer } from "../api/types";
import { useSize } from "../frame/useSize";
import { narrow, tokens, unseen } from "../theme";
import { Labels } from "./Labels";

const H = 208,
  L = 26,
  R = 8,
  T = 10,
  B = 24;

/** The envelope of this aircraft at this weight, with the figure's own track in it. */
export function SpeedAndG({ figure, answer }: { figure: FigureAnswer; answer: PlanAnswer }) {
  const {
    frame,
    size: { width: W },
  } = useSize<HTMLDivElement>({ width: 220, height: H });
  const { outline, never_exceed, rolling_g, speed_unit } = answer.envelope;
  const gs = outline.map((p) => p[1] ?? 0);
  const [least, most] = [Math.min(...gs), Math.max(...gs)];
  const x = scaleLinear()
    .domain([0, never_exceed * 1.05])
    .range([L, W - R]);
  const y = scaleLinear()
    .domain([least - 0.4, most + 0.4])
    .range([H - B, T]);
  const path = (points: readonly (readonly number[])[]) =>
    points.map(([v = 0, g = 0]) => `${x(v).toFixed(1)},${y(g).toFixed(1)}`).join("L");
  const peak = figure.track.reduce<readonly number[]>(
    (a, b) => ((b[1] ?? 0) > (a[1] ?? 0) ? b : a),
    figure.track[0] ?? [0, 1],
  );
  return (
    <Box ref={frame} sx={{ position: "relative", minWidth: 0 }}>
      <svg
        width={W}
        height={H}
        style={{ ...narrow, fontSize: 12, display: "block" }}
        role="img"
        aria-label={`Speed and g of ${figure.title}: ${figure.most_g.shown}, up to ${figure.fastest.shown}; limit ${most} g, Vne ${never_exceed} ${speed_unit}`}
      >
        <path
          d={`M${path(outline)}Z`}
          fill={tokens.planPale}
          opacity="0.55"
          stroke={tokens.ink}
          strokeWidth="1.3"
        />
        {x.ticks(W < 200 ? 2 : 4).map((v) => (
          <text key={v} x={x(v)} y={H - 9} textAnchor="middle" fill={tokens.slate}>
            {v === 0 ? `0 ${speed_unit}` : v}
          </text>
        ))}
        {[least, 0, 1, most].map((g) => (
          <g key={g}>
            <path d={`M${L} ${y(g)}H${W - R}`} stroke={tokens.hairline} strokeWidth={g === 0 ? 1.2 : 0.6} />
            <text x={L - 5} y={y(g) + 4} textAnchor="end" fill={tokens.slate}>
              {g > 0 ? `+${g}` : g}
            </text>
          </g>
        ))}
        <path d={`M${x(never_exceed)} ${y(most)}V${y(least)}`} stroke={tokens.stop} strokeWidth="2.4" />
        <path
          d={`M${x(never_exceed * 0.45)} ${y(rolling_g)}H${x(never_exceed)}`}
          stroke={tokens.mind}
          strokeDasharray="5 3"
          strokeWidth="1.4"
        />
        <path
          d={`M${path(figure.track)}`}
          fill="none"
          stroke={tokens.plan}
          strokeWidth="2.6"
          strokeLinejoin="round"
        />
        <circle cx={x(peak[0] ?? 0)} cy={y(peak[1] ?? 0)} r="3.6" fill={tokens.plan} />
        <Labels
          labels={[
            {
              words: `${(peak[1] ?? 0).toFixed(1)} g at ${Math.round(peak[0] ?? 0)} ${speed_unit}`,
              x: x(peak[0] ?? 0) - 6,
              y: y(peak[1] ?? 0) - 7,
              anchor: "end",
              bold: true,
              colour: tokens.plan,
              tries: [
                [12, 0, "start"],
                [0, 20],
                [12, 20, "start"],
              ],
            },
            {
              words: [`${rolling_g.toFixed(1)} while rolling`, rolling_g.toFixed(1)],
              x: x(never_exceed) - 5,
              y: y(rolling_g) - 4,
              anchor: "end",
              colour: tokens.mindInk,
              tries: [[0, 16]],
            },
            {
              words: `Vne ${never_exceed}`,
              x: x(never_exceed) - 4,
              y: y(least) - 4,
              anchor: "end",
              bold: true,
              colour: tokens.stop,
            },
          ]}
          room={{ left: L, right: W, top: 0, bottom: H - B }}
        />
      </svg>
      <Box sx={unseen}>
        Highest speed {figure.fastest.shown}, most g {figure.most_g.shown}, exit at {figure.exit_speed.shown}.
      </Box>
    </Box>
  );
}
