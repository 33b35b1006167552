import type { PlanAnswer } from "../api/types";
import { tokens } from "../theme";
import { slots, stroke, type Heights, type Size } from "./layout";

/** A proposal over the plan: dotted, its notches numbered as the figures are numbered now. */
export function Ghost({
  answer,
  titles,
  size,
  up,
}: {
  answer: PlanAnswer;
  titles: Record<string, string>;
  size: Size;
  up: Heights;
}) {
  const places = slots(answer, size),
    numbers = Object.keys(titles);
  return (
    <g aria-label="Proposal" opacity="0.95">
      {answer.figures.map((figure, i) => {
        const slot = places[i];
        if (!slot) return null;
        const startY = up.y(figure.start.value),
          lowY = up.y(figure.start.value - figure.likely.value),
          middle = (slot.left + slot.right) / 2;
        return (
          <g key={figure.id}>
            <path
              d={stroke(figure.profile, figure.start.value, slot, up.y)}
              fill="none"
              stroke={tokens.best}
              strokeWidth="3.4"
              strokeDasharray="1.5 5"
              strokeLinecap="round"
            />
            <path d={`M${slot.left - 6} ${startY}H${slot.left + 12}`} stroke={tokens.best} strokeWidth="4" />
            <circle
              cx={middle}
              cy={lowY + 13}
              r="10"
              fill={tokens.sheet}
              stroke={tokens.best}
              strokeDasharray="3 2"
              strokeWidth="1.8"
            />
            <text
              x={middle}
              y={lowY + 17}
              textAnchor="middle"
              fontSize="12"
              fontWeight="720"
              fill={tokens.best}
            >
              {numbers.indexOf(figure.id) + 1}
            </text>
          </g>
        );
      })}
    </g>
  );
}
