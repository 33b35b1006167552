import type { PlanAnswer } from "../api/types";
import { tokens } from "../theme";
import { LEFT, marks, RIGHT, TOP, type Heights, type Size } from "./layout";

/** What stands behind the figures: heights, floor, ground, the top of the block and the height to leave at. */
export function Background({ answer, up, size }: { answer: PlanAnswer; up: Heights; size: Size }) {
  const right = size.width - RIGHT;
  const width = Math.max(0, right - LEFT);
  const topY = up.y(answer.block_top.value);
  // Words stand below their line, so that the amber above the floor stays free; those of the floor below both
  // lines where there is no room between them.
  const leaveY = answer.leave ? up.y(answer.leave.value) : up.groundY;
  const floorWordsY = (leaveY - up.floorY < 16 ? leaveY : up.floorY) + 13.5;
  const leaveWordsY = leaveY + 15 < up.groundY ? leaveY + 13.5 : leaveY - 4;
  const label = { x: LEFT + 8, stroke: "none" };
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
        notch start, pale 19 in 20,{" "}
        <tspan fill={tokens.stop} fontWeight="660">
          red ticks
        </tspan>{" "}
        lowest start,{" "}
        <tspan fill={tokens.mindInk} fontWeight="660">
          amber
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
      <text {...label} y={floorWordsY} fill={tokens.stop} fontWeight="700">
        Floor {answer.floor.shown}: be level above this ({answer.floor_from})
      </text>
      {answer.leave && (
        <>
          <path d={`M${LEFT} ${leaveY}H${right}`} stroke={tokens.stop} strokeDasharray="2 4" />
          <text x={right - 6} textAnchor="end" y={leaveWordsY} fill={tokens.stop}>
            Leave the aircraft at {answer.leave.shown}
          </text>
        </>
      )}
      <rect x={LEFT} y={up.groundY} width={width} height={18} fill={tokens.earth} />
      <text {...label} y={up.groundY + 13} fill={tokens.slate}>
        Ground {answer.ground.shown} · below the floor not to scale
      </text>
      <path d={`M${LEFT} ${topY}H${right}`} stroke={tokens.ink} strokeWidth="1.6" />
      <text x={right - 6} y={topY - 5} textAnchor="end" fill={tokens.ink}>
        Block top {answer.block_top.shown}
      </text>
    </>
  );
}
