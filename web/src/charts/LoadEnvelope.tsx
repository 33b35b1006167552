import { Box } from "@mui/material";
import { scaleLinear } from "d3-scale";
import type { Card, PlanAnswer } from "../api/types";
import { useSize } from "../frame/useSize";
import { narrow, tokens, unseen } from "../theme";
import { Labels } from "./Labels";
import { around } from "./labels";

const H = 240,
  L = 52,
  R = 10,
  T = 18,
  B = 26;

/** Weight against balance: the aerobatic limits, and where the aircraft goes from take-off to the end as fuel burns. */
export function LoadEnvelope({ card, answer }: { card: Card; answer: PlanAnswer }) {
  const {
    frame,
    size: { width: W },
  } = useSize<HTMLDivElement>({ width: 300, height: H });
  const { balance } = card;
  const forward = balance.aerobatic_forward_in.value,
    aft = balance.aerobatic_aft_in.value,
    most = balance.aerobatic_most_lb.value;
  const track = answer.load_points.map((p) => ({
    when: p.when,
    arm: p.loading.arm.value,
    lb: p.loading.weight.value,
    inside: p.inside,
    shown: p.loading.weight.shown,
  }));
  const arms = [forward, aft, ...track.map((p) => p.arm)],
    weights = [most, ...track.map((p) => p.lb)];
  const pad = (aft - forward) * 0.12;
  const x = scaleLinear()
    .domain([Math.min(...arms) - pad, Math.max(...arms) + pad])
    .range([L, W - R]);
  const y = scaleLinear()
    .domain([Math.min(...weights) - 90, Math.max(...weights) + 30])
    .range([H - B, T]);
  return (
    <Box ref={frame} sx={{ minWidth: 0, position: "relative" }}>
      <svg
        width={W}
        height={H}
        style={{ ...narrow, fontSize: 12, display: "block" }}
        role="img"
        aria-label={`Weight and balance: ${track.map((p) => `${p.when} ${p.shown} at ${p.arm.toFixed(1)} inches, ${p.inside ? "inside" : "outside"}`).join("; ")}`}
      >
        <path
          d={`M${x(forward)} ${H - B}V${y(most)}H${x(aft)}V${H - B}`}
          fill={tokens.planPale}
          fillOpacity="0.5"
          stroke={tokens.ink}
          strokeWidth="1.4"
        />
        {x.ticks(5).map((v, i) => (
          <text key={v} x={x(v)} y={H - 11} textAnchor="middle" fill={tokens.slate}>
            {i === 0 ? `${v} in` : v}
          </text>
        ))}
        {y.ticks(4).map((v, i, all) => (
          <g key={v}>
            <path d={`M${L} ${y(v)}H${W - R}`} stroke={tokens.hairline} />
            <text x={L - 5} y={y(v) + 4} textAnchor="end" fill={tokens.slate}>
              {v.toLocaleString("en")}
              {i === all.length - 1 ? " lb" : ""}
            </text>
          </g>
        ))}
        <path
          d={`M${track.map((p) => `${x(p.arm)},${y(p.lb)}`).join("L")}`}
          fill="none"
          stroke={tokens.plan}
          strokeWidth="2.6"
        />
        {track.map((p) => (
          <g key={p.when}>
            <circle
              cx={x(p.arm)}
              cy={y(p.lb)}
              r="5"
              fill={p.inside ? tokens.plan : tokens.stop}
              stroke={tokens.sheet}
              strokeWidth="1.4"
            />
            {!p.inside && (
              <path
                d={`M${x(p.arm) - 8} ${y(p.lb) - 8}l16 16m0 -16l-16 16`}
                stroke={tokens.stop}
                strokeWidth="2"
              />
            )}
          </g>
        ))}
        <Labels
          labels={[
            ...track.map((p) => ({
              words: [`${p.when} ${p.shown}`, p.when],
              x: x(p.arm) + 10,
              y: y(p.lb) + 4,
              bold: true,
              colour: p.inside ? tokens.plan : tokens.stop,
              tries: [[-20, 0, "end"] as const],
            })),
            {
              words: [
                `Most for aerobatics ${most.toLocaleString("en")}`,
                `most ${most.toLocaleString("en")}`,
              ],
              x: (x(forward) + x(aft)) / 2,
              y: y(most) - 5,
              anchor: "middle" as const,
              bold: true,
              colour: tokens.ink,
              tries: [[0, 19] as const],
            },
          ]}
          taken={[
            ...track.map((p) => around(x(p.arm), y(p.lb), 7)),
            { left: x(forward) - 1, right: x(forward) + 1, top: y(most), bottom: H - B },
            { left: x(aft) - 1, right: x(aft) + 1, top: y(most), bottom: H - B },
            { left: x(forward), right: x(aft), top: y(most) - 1, bottom: y(most) + 1 },
          ]}
          room={{ left: L + 2, top: 0, right: W - 2, bottom: H - B }}
        />
      </svg>
      <Box component="table" sx={unseen}>
        <tbody>
          {track.map((p) => (
            <tr key={p.when}>
              <td>{p.when}</td>
              <td>{p.shown}</td>
              <td>{p.arm.toFixed(1)} in</td>
              <td>{p.inside ? "inside" : "outside"}</td>
            </tr>
          ))}
        </tbody>
      </Box>
    </Box>
  );
}
