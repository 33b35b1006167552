import type { PlanAnswer } from "../api/types";
import { Labels } from "../charts/Labels";
import type { Box, Label } from "../charts/labels";
import { tokens } from "../theme";
import { LEFT, marks, RIGHT, TOP, type Heights, type Size } from "./layout";

interface Props {
  answer: PlanAnswer;
  up: Heights;
  size: Size;
  /** Where the figures' own marks stand. */ taken: Box[];
}

/** What stands behind the figures: heights, floor, ground, the top of the block and the height to leave at. */
export function Background({ answer, up, size, taken }: Props) {
  const right = size.width - RIGHT;
  const width = Math.max(0, right - LEFT);
  const topY = up.y(answer.block_top.value);
  const leaveY = answer.leave ? up.y(answer.leave.value) : up.groundY;
  const ground = `Ground ${answer.ground.shown}`;
  // Words stand below their line, so that the amber above the floor stays free.
  const labels: Label[] = [
    {
      words: [`Block top ${answer.block_top.shown}`, answer.block_top.shown],
      x: right - 6,
      y: topY - 5,
      anchor: "end",
      colour: tokens.ink,
      tries: [
        [LEFT + 14 - right, 0, "start"],
        [0, 18],
        [LEFT + 14 - right, 18, "start"],
      ],
    },
    {
      words: [
        `Floor ${answer.floor.shown}: be level above this (${answer.floor_from})`,
        `Floor ${answer.floor.shown}: be level above this`,
        `Floor ${answer.floor.shown}`,
      ],
      x: LEFT + 8,
      y: up.floorY + 12.5,
      bold: true,
      colour: tokens.stop,
    },
    {
      words: [`${ground} · below the floor not to scale`, ground],
      x: LEFT + 8,
      y: up.groundY + 13,
      colour: tokens.slate,
      tries: [],
    },
  ];
  if (answer.leave)
    labels.push({
      words: [`Leave the aircraft at ${answer.leave.shown}`, `Leave at ${answer.leave.shown}`],
      x: right - 6,
      y: leaveY + 13.5,
      anchor: "end",
      colour: tokens.stop,
      tries: [[0, -18]],
    });
  const lines = [up.floorY, ...(answer.leave ? [leaveY] : [])].map((y) => strike(LEFT, right, y));
  return (
    <>
      <defs>
        <pattern
          id="forbidden"
          width="9"
          height="9"
          patternUnits="userSpaceOnUse"
          patternTransform="rotate(45)"
        >
          <rect width="9" height="9" fill={tokens.stopPale} />
          <rect width="2.2" height="9" fill={tokens.stop} opacity="0.22" />
        </pattern>
      </defs>
      <text x={LEFT} y={TOP - 5} fill={tokens.slate} fontSize="12">
        {size.width > 480 && "notch: start, pale: 19 times in 20, "}
        <tspan fill={tokens.stop} fontWeight="660">
          red ticks:
        </tspan>{" "}
        lowest start,{" "}
        <tspan fill={tokens.mindInk} fontWeight="660">
          amber:
        </tspan>{" "}
        my controls
      </text>
      <rect x={LEFT} y={TOP} width={width} height={up.floorY - TOP} fill={tokens.sky} />
      {marks(answer.floor.value, up.top, up.floorY - TOP).map((ft) => (
        <g key={ft}>
          <path d={`M${LEFT} ${up.y(ft)}H${right}`} stroke={tokens.hairline} strokeWidth="1" />
          <text x={LEFT - 8} y={up.y(ft) + 4} textAnchor="end" fill={tokens.slate}>
            {ft.toLocaleString("en")}
          </text>
        </g>
      ))}
      <rect
        x={LEFT}
        y={up.floorY}
        width={width}
        height={Math.max(0, up.groundY - up.floorY)}
        fill="url(#forbidden)"
      />
      <path d={`M${LEFT} ${up.floorY}H${right}`} stroke={tokens.stop} strokeWidth="2.5" />
      {answer.leave && <path d={`M${LEFT} ${leaveY}H${right}`} stroke={tokens.stop} strokeDasharray="2 4" />}
      <rect x={LEFT} y={up.groundY} width={width} height={18} fill={tokens.earth} />
      <path d={`M${LEFT} ${topY}H${right}`} stroke={tokens.ink} strokeWidth="1.6" />
      <Labels
        labels={labels}
        taken={[...taken, ...lines]}
        room={{ left: LEFT, top: TOP, right, bottom: up.groundY + 18 }}
      />
    </>
  );
}

/** A line that no words lie across. */
function strike(left: number, right: number, y: number): Box {
  return { left, right, top: y - 0.5, bottom: y + 0.5 };
}
