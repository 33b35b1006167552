import { Box } from "@mui/material";
import { useMemo, type ReactNode } from "react";
import type { Attempt, FigureAnswer, PlanAnswer } from "../api/types";
import { around } from "../charts/labels";
import { useSize } from "../frame/useSize";
import { narrow, tokens } from "../theme";
import { AskedMark } from "./Asked";
import { Background } from "./Background";
import { FigureMark } from "./FigureMark";
import { Ghost } from "./Ghost";
import { heights, LEFT, numberOf, slots, type Heights, type Slot } from "./layout";
import { StripTable } from "./StripTable";
import { useGrip, type OnNotch } from "./useGrip";

interface Props extends OnNotch {
  answer: PlanAnswer;
  /** Start heights as they are being moved: the picture follows the hand, the numbers follow the server. */
  starts?: ReadonlyMap<string, number>;
  attempts?: Attempt[];
  selected?: string | null;
  /** A proposal, drawn dotted over the plan. */
  ghost?: PlanAnswer | null;
  /** Drawn on top. */
  over?: (on: OnStrip) => ReactNode;
}
/** Where a share of a figure lies at a height; null where the figure is not on the strip. */
export type OnStrip = (figure: string, share: number, feet: number) => [number, number] | null;
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
  over,
}: Props) {
  const { frame, size } = useSize<HTMLDivElement>({ width: 700, height: 380 });
  const up = useMemo(() => heights(answer, attempts, size), [answer, attempts, size]);
  const flown = useMemo(
    () => new Map(answer.figures.map((f) => [f.id, attempts.filter((a) => a.planned.id === f.id)])),
    [answer, attempts],
  );
  const places = useMemo(() => slots(answer, size), [answer, size]);
  // As the hand has it, where it has: the answer comes later.
  const order = [...(starts?.keys() ?? Object.keys(answer.titles))];
  const { take, holding } = useGrip(places, order, up, { onSelect, onStart, onPlace });
  const taken = useMemo(
    () =>
      answer.figures.flatMap((figure, i) => {
        const slot = places[i];
        if (!slot) return [];
        const [middle, top] = [(slot.left + slot.right) / 2, up.y(figure.highest_point.value)];
        const amber = up.y(figure.take_over.value);
        const flownTo = (flown.get(figure.id) ?? []).map((a) => a.lowest_ft ?? Infinity);
        const deepest = up.y(Math.min(figure.lowest_point.value, ...flownTo));
        return [
          // Only what reaches below the floor can meet the words that stand there.
          ...(deepest > up.floorY
            ? [{ left: slot.left, right: slot.right, top: up.floorY, bottom: deepest }]
            : []),
          around(middle, top - 18, 14),
          { left: slot.left - 6, right: slot.right + 6, top: amber - 3, bottom: amber + 3 },
        ];
      }),
    [answer, flown, places, up],
  );
  return (
    <Box ref={frame} sx={{ position: "relative", width: "100%", height: "100%", minHeight: 160 }}>
      <svg
        width={size.width}
        height={size.height}
        style={{
          position: "absolute",
          inset: 0,
          touchAction: onStart ? "none" : "auto",
          ...narrow,
          fontSize: 12.5,
        }}
        role="group"
        aria-label="Height strip"
        {...holding}
      >
        <Background answer={answer} up={up} size={size} taken={taken} />
        <Climbs answer={answer} starts={starts} places={places} up={up} />
        {answer.figures.map((figure, i) => {
          const slot = places[i];
          return (
            slot && (
              <FigureMark
                key={figure.id}
                n={numberOf(answer, figure.id)}
                place={order.indexOf(figure.id)}
                figure={figure}
                slot={slot}
                up={up}
                selected={figure.id === selected}
                start={starts?.get(figure.id) ?? figure.start.value}
                flown={flown.get(figure.id) ?? NOTHING_FLOWN}
                onSelect={onSelect}
                onStart={onStart}
                onPlace={onPlace}
                take={take}
              />
            )
          );
        })}
        <AskedMark plan={answer} places={places} up={up} size={size} />
        {ghost && <Ghost answer={ghost} titles={answer.titles} size={size} up={up} />}
        {over?.((figure, share, feet) => {
          const slot = places.find(({ id }) => id === figure);
          return slot ? [slot.left + share * (slot.right - slot.left), up.y(feet)] : null;
        })}
      </svg>
      <StripTable answer={answer} attempts={attempts} />
    </Box>
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
