import { memo } from "react";
import type { Attempt, FigureAnswer } from "../api/types";
import { tokens } from "../theme";
import { VerdictShape } from "../verdict/VerdictMark";
import { heightAt, notedStroke, stroke, TOP, type Heights, type Slot } from "./layout";
import type { OnNotch, Take } from "./useGrip";

interface MarkProps extends OnNotch {
  n: number;
  /** Where it stands in the plan as the hand has it, counted from 0. */
  place: number;
  figure: FigureAnswer;
  start: number;
  slot: Slot;
  up: Heights;
  selected: boolean;
  flown: Attempt[];
  take: Take;
}

/** One figure: its notch, what it will cost, what was flown; dragged up and down, and along. */
export const FigureMark = memo(function FigureMark({
  n,
  place,
  figure,
  start,
  slot,
  up,
  selected,
  flown,
  onSelect,
  onStart,
  onPlace,
  take,
}: MarkProps) {
  const startY = up.y(start),
    lowestY = up.y(start - figure.worst.value),
    highestY = up.y(start + figure.highest_point.value - figure.start.value);
  const middle = (slot.left + slot.right) / 2;
  // Where nothing is moved it is a button: what Tab passes on its way is not chosen.
  const press = {
    onKeyDown: (e: React.KeyboardEvent) => {
      if (e.key !== "Enter" && e.key !== " ") return;
      e.preventDefault();
      onSelect?.(figure.id);
    },
  };
  const drag = onStart && {
    onPointerDown: (e: React.PointerEvent<SVGGElement>) => take(figure.id, startY, e),
    onKeyDown: (e: React.KeyboardEvent) => {
      if (onPlace && (e.key === "ArrowLeft" || e.key === "ArrowRight")) {
        e.preventDefault();
        onPlace(figure.id, place + (e.key === "ArrowRight" ? 1 : -1), "");
        return;
      }
      if (e.key !== "ArrowUp" && e.key !== "ArrowDown") return;
      e.preventDefault();
      const by = (e.key === "ArrowUp" ? 1 : -1) * (e.shiftKey ? 10 : 50);
      onStart(figure.id, heightAt(start + by, e.shiftKey), `keys ${figure.id}`);
    },
  };
  return (
    <g opacity={1}>
      {selected && (
        <rect
          x={slot.left - 5}
          y={TOP}
          width={slot.right - slot.left + 10}
          height={up.floorY - TOP}
          fill={tokens.plan}
          opacity="0.06"
        />
      )}
      <rect
        x={slot.left}
        y={startY}
        width={slot.right - slot.left}
        height={Math.max(0, lowestY - startY)}
        fill={tokens.planPale}
        opacity={selected ? 0.85 : 0.5}
      />
      <path d={`M${slot.left} ${lowestY}H${slot.right}`} stroke={tokens.plan} strokeWidth="1.4" />
      <path
        d={`M${slot.left - 3} ${up.y(figure.take_over.value)}H${slot.right + 3}`}
        stroke={tokens.mind}
        strokeWidth="2.4"
        strokeDasharray="5 3"
      />
      <path
        d={stroke(figure.profile, start, slot, up.y)}
        fill="none"
        stroke={tokens.plan}
        strokeWidth={selected ? 5 : 4}
        strokeLinejoin="round"
        strokeDasharray={flown.length ? "7 4" : undefined}
      />
      {flown.map((attempt) => {
        const d = notedStroke(attempt, slot, up.y);
        return (
          d && (
            <path
              key={attempt.id}
              d={d}
              fill="none"
              stroke={tokens.flown}
              strokeWidth="3.5"
              strokeLinejoin="round"
            />
          )
        );
      })}
      <path
        d={`M${slot.left - 6} ${up.y(figure.lowest_start.value)}h5M${slot.right + 1} ${up.y(figure.lowest_start.value)}h5`}
        stroke={tokens.stop}
        strokeWidth="2"
      />
      <g
        {...(drag ?? press)}
        data-notch={figure.id}
        onClick={() => onSelect?.(figure.id)}
        style={{ cursor: onStart ? "move" : "pointer", outlineOffset: 2 }}
        tabIndex={onSelect || onStart ? 0 : -1}
        onFocus={() => onStart && onSelect?.(figure.id)}
        role={onStart ? "slider" : "button"}
        aria-orientation={onStart ? "vertical" : undefined}
        aria-label={`${n} ${figure.title}, start height${figure.verdict === "fine" ? "" : `, ${figure.verdict}`}`}
        aria-valuenow={onStart ? start : undefined}
        aria-valuemin={onStart ? 0 : undefined}
        aria-valuemax={onStart ? 30000 : undefined}
        aria-valuetext={onStart ? `${start.toLocaleString("en")} ft, place ${n}` : undefined}
      >
        <rect
          x={slot.left - 8}
          y={highestY - 40}
          width={slot.right - slot.left + 16}
          height={52 + startY - highestY}
          fill="transparent"
        />
        <path d={`M${slot.left - 6} ${startY}H${slot.left + 12}`} stroke={tokens.ink} strokeWidth="4" />
        <circle
          cx={middle}
          cy={highestY - 18}
          r="12"
          fill={selected ? tokens.plan : tokens.sheet}
          stroke={tokens.plan}
          strokeWidth="1.8"
        />
        <text
          x={middle}
          y={highestY - 13.5}
          textAnchor="middle"
          fontWeight="720"
          fill={selected ? tokens.onPlan : tokens.plan}
        >
          {n}
        </text>
        {figure.verdict !== "fine" && (
          <g transform={`translate(${middle + 9} ${highestY - 38}) scale(0.95)`}>
            <VerdictShape verdict={figure.verdict} />
          </g>
        )}
      </g>
      <text x={middle} y={up.groundY + 36} textAnchor="middle" fill={tokens.slate}>
        {Math.round(figure.starts_min)} min
      </text>
    </g>
  );
});
