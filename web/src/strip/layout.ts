/** Where things lie on the height strip: pure functions from a computed plan to pixels. */
import { scaleLinear } from "d3-scale";
import type { Attempt, PlanAnswer } from "../api/types";

export interface Size {
  width: number;
  height: number;
}
export interface Slot {
  id: string;
  left: number;
  right: number;
}
export type HeightScale = (feet: number) => number;

export const LEFT = 50;
export const RIGHT = 14;
export const TOP = 18;
export const BOTTOM = 24;
/** Of what stands above a figure's highest point, what is more than TOP. */
const NUMBER_ABOVE = 14;
/** The part of the picture below the floor is forbidden air: it gets a quarter of the height, and says that it is not to scale. */
const BELOW_FLOOR = 0.27;

export interface Heights {
  y: HeightScale;
  feet: (y: number) => number;
  top: number;
  floorY: number;
  groundY: number;
}

export function heights(answer: PlanAnswer, attempts: Attempt[], { height }: Size): Heights {
  const starts = [
    ...answer.figures.map((f) => f.highest_point.value),
    ...attempts.map((a) => a.start_ft ?? 0),
  ];
  const bottomY = height - BOTTOM;
  const floorY = TOP + (bottomY - TOP) * (1 - BELOW_FLOOR);
  // However low the strip is, the number above the highest figure is whole.
  const share = Math.min(0.5, NUMBER_ABOVE / (floorY - TOP)),
    floor = answer.floor.value;
  const numbered =
    (Math.max(...answer.figures.map((f) => f.highest_point.value)) - floor * share) / (1 - share);
  const top =
    Math.ceil(Math.max(answer.block_top.value + 150, Math.max(...starts) + 150, numbered) / 100) * 100;
  const ground = answer.ground.value;
  const earthY = bottomY - 18;
  const scale = scaleLinear()
    .domain([ground, answer.floor.value, top])
    .range([earthY, floorY, TOP])
    .clamp(false);
  return { y: (ft) => scale(ft), feet: (y) => scale.invert(y), top, floorY, groundY: earthY };
}

/** Each figure gets a slot; what is left of the width goes to the climbs by their minutes. Figures are drawn wider than
 * their seconds would be. */
export function slots(answer: PlanAnswer, { width }: Size): Slot[] {
  const n = answer.figures.length;
  if (n === 0) return [];
  const room = width - LEFT - RIGHT;
  const figure = Math.min(58, (room / n) * 0.56);
  const leads = answer.figures.map(
    (f, i) => f.starts_min - (i === 0 ? 0 : (answer.figures[i - 1]?.ends_min ?? 0)),
  );
  leads[0] = Math.min(leads[0] ?? 0, 4);
  const least = 8;
  const free = Math.max(0, room - n * (figure + least));
  const all = leads.reduce((sum, lead) => sum + lead, 0.6) || 1;
  let x = LEFT;
  return answer.figures.map((f, i) => {
    x += least + (free * (leads[i] ?? 0)) / all;
    const slot = { id: f.id, left: x, right: x + figure };
    x += figure;
    return slot;
  });
}

/** The figure's stroke inside its slot: seconds across, feet from its start. */
export function stroke(
  profile: readonly (readonly number[])[],
  startFt: number,
  slot: Slot,
  y: HeightScale,
): string {
  const last = profile[profile.length - 1]?.[0] ?? 1;
  const points = profile.map(
    ([s = 0, ft = 0]) =>
      `${(slot.left + ((slot.right - slot.left) * s) / (last || 1)).toFixed(1)},${y(startFt + ft).toFixed(1)}`,
  );
  return `M${points.join("L")}`;
}

/** What was noted of an attempt: start, recovery, lowest, level, evenly across the slot. */
export function notedStroke(attempt: Attempt, slot: Slot, y: HeightScale): string | null {
  const noted = [attempt.start_ft, attempt.recover_ft, attempt.lowest_ft, attempt.level_ft];
  const shares = [0.06, 0.42, 0.82, 0.98];
  const points = noted.flatMap((ft, i) =>
    ft == null
      ? []
      : [`${(slot.left + (slot.right - slot.left) * (shares[i] ?? 0)).toFixed(1)},${y(ft).toFixed(1)}`],
  );
  return points.length < 2 ? null : `M${points.join("L")}`;
}

/** Heights to label above the floor, at a round distance that leaves room. */
export function marks(floor: number, top: number, pixels: number): number[] {
  const step = [250, 500, 1000, 2000].find((s) => (pixels * s) / (top - floor) > 26) ?? 5000;
  const found: number[] = [];
  for (let ft = Math.ceil((floor + step * 0.3) / step) * step; ft < top; ft += step) found.push(ft);
  return found;
}

/** The figure's place in the plan: figures that the aircraft cannot be asked about have a number too, but no picture. */
export function numberOf(answer: PlanAnswer, id: string): number {
  return Object.keys(answer.titles).indexOf(id) + 1;
}

/** Where a start height is put: at whole fifties of feet, or tens. */
export function heightAt(feet: number, fine: boolean): number {
  const step = fine ? 10 : 50;
  return Math.max(0, Math.min(29000, Math.round(feet / step) * step));
}

/** Where a figure dragged along to x comes to stand in the plan's order: behind the last of the others whose middle it has
 * passed. Figures without a picture go with the one before them; as long as none is passed it stays where it stood. */
export function placeAmong(id: string, x: number, slots: Slot[], order: string[]): number {
  const own = slots.findIndex((slot) => slot.id === id);
  const others = slots.filter((slot) => slot.id !== id);
  const passed = others.filter((slot) => (slot.left + slot.right) / 2 < x).length;
  if (passed === own) return order.indexOf(id);
  const before = others[passed - 1];
  return before ? order.filter((each) => each !== id).indexOf(before.id) + 1 : 0;
}
