import { Box } from "@mui/material";
import { scaleLinear } from "d3-scale";
import type { Card, PlanAnswer } from "../api/types";
import { narrow, tokens, unseen } from "../theme";
import { apart } from "./SideView";

const W = 300,
  H = 236,
  L = 40,
  R = 10,
  T = 16,
  B = 26;

/** Weight against balance: the aerobatic limits, and where the aircraft goes from take-off to the end as fuel burns. */
export function LoadEnvelope({ card, answer }: { card: Card; answer: PlanAnswer }) {
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
    <Box>
      <svg
        viewBox={`0 0 ${W} ${H}`}
        width="100%"
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
        <text
          x={(x(forward) + x(aft)) / 2}
          y={y(most) + 14}
          textAnchor="middle"
          fill={tokens.ink}
          fontWeight="660"
        >
          Most for aerobatics {most.toLocaleString("en")}
        </text>
        {x.ticks(5).map((v) => (
          <text key={v} x={x(v)} y={H - 11} textAnchor="middle" fill={tokens.slate}>
            {v}
          </text>
        ))}
        {y.ticks(4).map((v) => (
          <g key={v}>
            <path d={`M${L} ${y(v)}H${W - R}`} stroke={tokens.hairline} />
            <text x={L - 5} y={y(v) + 4} textAnchor="end" fill={tokens.slate}>
              {v.toLocaleString("en")}
            </text>
          </g>
        ))}
        <text x={W - R} y={H - 11} textAnchor="end" fill={tokens.slate}>
          in
        </text>
        <text x={4} y={T - 4} fill={tokens.slate}>
          lb
        </text>
        <path
          d={`M${track.map((p) => `${x(p.arm)},${y(p.lb)}`).join("L")}`}
          fill="none"
          stroke={tokens.plan}
          strokeWidth="2.6"
        />
        {apart(
          track.map((p) => ({ ...p, at: y(p.lb) })),
          14,
          H - B,
        ).map((p) => (
          <g key={p.when}>
            <circle
              cx={x(p.arm)}
              cy={y(p.lb)}
              r="5"
              fill={p.inside ? tokens.plan : tokens.stop}
              stroke="#fff"
              strokeWidth="1.4"
            />
            {!p.inside && (
              <path
                d={`M${x(p.arm) - 8} ${y(p.lb) - 8}l16 16m0 -16l-16 16`}
                stroke={tokens.stop}
                strokeWidth="2"
              />
            )}
            <path
              d={`M${x(p.arm) + 5} ${y(p.lb)}L${x(p.arm) + 20} ${p.y}`}
              stroke={tokens.plan}
              strokeWidth="0.8"
            />
            <text x={x(p.arm) + 23} y={p.y + 4} fill={p.inside ? tokens.plan : tokens.stop} fontWeight="660">
              {p.when} {p.shown}
            </text>
          </g>
        ))}
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
