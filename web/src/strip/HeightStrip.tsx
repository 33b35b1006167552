import { Box } from "@mui/material";
import { memo, useCallback, useEffect, useMemo, useRef } from "react";
import type { Attempt, FigureAnswer, PlanAnswer } from "../api/types";
import { useSize } from "../frame/useSize";
import { narrow, tokens, unseen } from "../theme";
import { VerdictShape } from "../verdict/VerdictMark";
import {
  heights,
  LEFT,
  marks,
  notedStroke,
  RIGHT,
  slots,
  stroke,
  TOP,
  type Heights,
  type Slot,
} from "./layout";

interface Props {
  answer: PlanAnswer;
  /** Start heights as they are being moved: the picture follows the hand, the numbers follow the server. */
  starts?: ReadonlyMap<string, number>;
  attempts?: Attempt[];
  selected?: string | null;
  onSelect?: (id: string) => void;
  /** Called while a notch is moved; the same `gesture` for one movement, so that it is one step to undo. */
  onStart?: (id: string, feet: number, gesture: string) => void;
  /** Called when a figure is dragged along, or moved with the arrow keys: its new place, counted from 0. */
  onPlace?: (id: string, to: number, gesture: string) => void;
  /** A proposal, drawn dotted over the plan. */
  ghost?: PlanAnswer | null;
}
const NOTHING_FLOWN: Attempt[] = [];

/** The one picture: time to the right, height up, and what every figure spends. */
export function HeightStrip({
  answer,
  starts,
  attempts = NOTHING_FLOWN,
  selected,
  onSelect,
  onStart,
  onPlace,
  ghost,
}: Props) {
  const { frame, size } = useSize<HTMLDivElement>({ width: 700, height: 380 });
  const up = useMemo(() => heights(answer, attempts, size), [answer, attempts, size]);
  const flown = useMemo(
    () => new Map(answer.figures.map((f) => [f.id, attempts.filter((a) => a.planned.id === f.id)])),
    [answer, attempts],
  );
  const order = useRef<string[]>([]);
  useEffect(() => {
    order.current = Object.keys(answer.titles);
  });
  // The place among the slots under a pointer: where a figure dragged along would come to stand.
  const along = useRef<Slot[]>([]);
  const placeAt = useCallback(
    (x: number) => {
      const left = frame.current?.getBoundingClientRect().left ?? 0;
      const before = along.current.findIndex((slot) => x - left < (slot.left + slot.right) / 2);
      return before < 0 ? along.current.length - 1 : before;
    },
    [frame],
  );
  const place = useCallback(
    (id: string, to: number, gesture: string) => {
      const standing = order.current.indexOf(id),
        most = order.current.length - 1;
      const target = Math.max(0, Math.min(most, to));
      if (standing >= 0 && target !== standing) onPlace?.(id, target, gesture);
    },
    [onPlace],
  );
  const places = useMemo(() => slots(answer, size), [answer, size]);
  useEffect(() => {
    along.current = places;
  });
  return (
    <Box ref={frame} sx={{ position: "relative", width: "100%", height: "100%", minHeight: 160 }}>
      <svg
        width={size.width}
        height={size.height}
        style={{ position: "absolute", inset: 0, touchAction: "none", ...narrow, fontSize: 12.5 }}
        role="group"
        aria-label="Height strip"
      >
        <Background answer={answer} up={up} size={size} />
        <Climbs answer={answer} starts={starts} places={places} up={up} />
        {answer.figures.map((figure, i) => {
          const slot = places[i];
          return (
            slot && (
              <FigureMark
                key={figure.id}
                n={numberOf(answer, figure.id)}
                figure={figure}
                slot={slot}
                up={up}
                selected={figure.id === selected}
                start={starts?.get(figure.id) ?? figure.start.value}
                flown={flown.get(figure.id) ?? NOTHING_FLOWN}
                onSelect={onSelect}
                onStart={onStart}
                onPlace={onPlace && place}
                placeAt={placeAt}
              />
            )
          );
        })}
        {ghost && <Ghost answer={ghost} titles={answer.titles} size={size} up={up} />}
      </svg>
      <StripTable answer={answer} attempts={attempts} />
    </Box>
  );
}

/** The figure's place in the plan: figures that the aircraft cannot be asked about have a number too, but no picture. */
function numberOf(answer: PlanAnswer, id: string): number {
  return Object.keys(answer.titles).indexOf(id) + 1;
}

function Background({
  answer,
  up,
  size,
}: {
  answer: PlanAnswer;
  up: Heights;
  size: { width: number; height: number };
}) {
  const right = size.width - RIGHT;
  const width = Math.max(0, right - LEFT);
  const topY = up.y(answer.block_top.value);
  // In a low picture the line below would strike through the floor's words: they stand above it then.
  const crowded =
    answer.leave !== null && answer.leave !== undefined && up.y(answer.leave.value) - up.floorY < 16;
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
      <text {...label} y={crowded ? up.floorY - 6 : up.floorY + 13.5} fill={tokens.stop} fontWeight="700">
        Floor {answer.floor.shown}: be level above this ({answer.floor_from})
      </text>
      {answer.leave && (
        <>
          <path
            d={`M${LEFT} ${up.y(answer.leave.value)}H${right}`}
            stroke={tokens.stop}
            strokeDasharray="2 4"
          />
          <text x={right - 6} textAnchor="end" y={up.y(answer.leave.value) - 4} fill={tokens.stop}>
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

/** Thin lines: climbs and transits between figures. */
function Climbs({
  answer,
  starts,
  places,
  up,
}: {
  answer: PlanAnswer;
  starts?: ReadonlyMap<string, number>;
  places: Slot[];
  up: Heights;
}) {
  const startOf = (f: FigureAnswer) => starts?.get(f.id) ?? f.start.value;
  return (
    <>
      {answer.figures.map((figure, i) => {
        const slot = places[i],
          before = answer.figures[i - 1],
          from = places[i - 1];
        if (!slot) return null;
        const startY = up.y(startOf(figure));
        if (!before || !from)
          return (
            <path
              key={figure.id}
              d={`M${LEFT} ${Math.min(up.floorY, startY + 40)}L${slot.left} ${startY}`}
              stroke={tokens.plan}
              opacity="0.55"
              strokeWidth="1.4"
            />
          );
        return (
          <path
            key={figure.id}
            d={`M${from.right} ${up.y(startOf(before) - (before.start.value - before.ends.value))}L${slot.left} ${startY}`}
            stroke={tokens.plan}
            opacity="0.55"
            strokeWidth="1.4"
          />
        );
      })}
    </>
  );
}

interface MarkProps {
  n: number;
  figure: FigureAnswer;
  start: number;
  slot: Slot;
  up: Heights;
  selected: boolean;
  flown: Attempt[];
  onSelect?: (id: string) => void;
  onStart?: (id: string, feet: number, gesture: string) => void;
  onPlace?: (id: string, to: number, gesture: string) => void;
  placeAt: (x: number) => number;
}

const FigureMark = memo(function FigureMark({
  n,
  figure,
  start,
  slot,
  up,
  selected,
  flown,
  onSelect,
  onStart,
  onPlace,
  placeAt,
}: MarkProps) {
  const gesture = useRef("");
  const grip = useRef({ x: 0, y: 0, along: false });
  const startY = up.y(start),
    lowestY = up.y(start - figure.worst.value),
    highestY = up.y(start + figure.highest_point.value - figure.start.value);
  const middle = (slot.left + slot.right) / 2;
  const move = (feet: number, fine: boolean, name: string) => {
    const step = fine ? 10 : 50;
    onStart?.(figure.id, Math.max(0, Math.min(29000, Math.round(feet / step) * step)), name);
  };
  const drag = onStart && {
    onPointerDown: (e: React.PointerEvent<SVGGElement>) => {
      onSelect?.(figure.id);
      e.currentTarget.setPointerCapture(e.pointerId);
      gesture.current = `drag ${figure.id} ${e.timeStamp}`;
      grip.current = { x: e.clientX, y: e.clientY - startY, along: false };
    },
    onPointerMove: (e: React.PointerEvent<SVGGElement>) => {
      if (!e.currentTarget.hasPointerCapture(e.pointerId)) return;
      // Along the strip it changes its place; once it has begun to, it no longer changes its height.
      if (
        onPlace &&
        !grip.current.along &&
        Math.abs(e.clientX - grip.current.x) > 34 &&
        Math.abs(e.clientX - grip.current.x) > 2 * Math.abs(e.clientY - grip.current.y - startY)
      )
        grip.current.along = true;
      if (grip.current.along) onPlace?.(figure.id, placeAt(e.clientX), gesture.current);
      else move(up.feet(e.clientY - grip.current.y), e.shiftKey, gesture.current);
    },
    onKeyDown: (e: React.KeyboardEvent) => {
      if (onPlace && (e.key === "ArrowLeft" || e.key === "ArrowRight")) {
        e.preventDefault();
        onPlace(figure.id, n - 1 + (e.key === "ArrowRight" ? 1 : -1), "");
        return;
      }
      if (e.key !== "ArrowUp" && e.key !== "ArrowDown") return;
      e.preventDefault();
      const step = e.shiftKey ? 10 : 50;
      move(start + (e.key === "ArrowUp" ? step : -step), e.shiftKey, `keys ${figure.id}`);
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
        {...drag}
        data-notch={figure.id}
        onClick={() => onSelect?.(figure.id)}
        style={{ cursor: onStart ? "move" : "pointer", outlineOffset: 2 }}
        tabIndex={onSelect || onStart ? 0 : -1}
        onFocus={() => onSelect?.(figure.id)}
        role={onStart ? "slider" : "button"}
        aria-orientation={onStart ? "vertical" : undefined}
        aria-label={`${n} ${figure.title}, start height`}
        aria-valuenow={onStart ? start : undefined}
        aria-valuemin={onStart ? 0 : undefined}
        aria-valuemax={onStart ? 30000 : undefined}
        aria-valuetext={onStart ? `${start.toLocaleString("en")} ft` : undefined}
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
          fill={selected ? "#fff" : tokens.plan}
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

/** A proposal over the plan: dotted, its notches numbered as the figures are numbered now. */
function Ghost({
  answer,
  titles,
  size,
  up,
}: {
  answer: PlanAnswer;
  titles: Record<string, string>;
  size: { width: number; height: number };
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
              fontSize="11"
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

/** The same in text. */
function StripTable({ answer, attempts }: { answer: PlanAnswer; attempts: Attempt[] }) {
  return (
    <Box component="table" sx={unseen}>
      <caption>
        Height strip in text. {answer.floor.label} {answer.floor.shown}, block top {answer.block_top.shown}.
      </caption>
      <thead>
        <tr>
          <th>Figure</th>
          <th>Start</th>
          <th>Likely loss</th>
          <th>Lowest 19 times in 20</th>
          <th>Lowest start</th>
          <th>My controls at</th>
          <th>Flown</th>
        </tr>
      </thead>
      <tbody>
        {answer.figures.map((f) => (
          <tr key={f.id}>
            <td>
              {numberOf(answer, f.id)} {f.title}
            </td>
            <td>{f.start.shown}</td>
            <td>{f.likely.shown}</td>
            <td>{f.lowest_point.shown}</td>
            <td>{f.lowest_start.shown}</td>
            <td>{f.take_over.shown}</td>
            <td>
              {attempts
                .filter((a) => a.planned.id === f.id && a.start_ft != null && a.lowest_ft != null)
                .map((a) => `${a.start_ft} to ${a.lowest_ft} ft`)
                .join(", ")}
            </td>
          </tr>
        ))}
      </tbody>
    </Box>
  );
}
