/** What is noted in the air: the keys of the heights, what each offers before it is set, and how it is written down. */
import type { Attempt, FigureAnswer } from "../../api/types";

export type HeightName = "start_ft" | "recover_ft" | "lowest_ft" | "level_ft";
export const HEIGHTS: [HeightName, string][] = [
  ["start_ft", "Start"],
  ["recover_ft", "Recover"],
  ["lowest_ft", "Lowest"],
  ["level_ft", "Level"],
];

/** One figure being flown. edit: what changes of its attempt, which is made when there is none yet. */
export interface Noting {
  figure: FigureAnswer;
  attempt: Attempt | null;
  editable: boolean;
  edit: (change: Partial<Attempt>, gesture?: string) => void;
}

/** What a key offers before it is set: the plan's own height, from the start that was flown. */
export function preset(figure: FigureAnswer, attempt: Attempt | null, name: HeightName): number {
  const start = attempt?.start_ft ?? figure.start.value;
  const likely = figure.likely.value;
  const down = {
    start_ft: 0,
    recover_ft: figure.start.value - figure.recovers.value,
    lowest_ft: likely,
    level_ft: likely,
  }[name];
  const ft = Math.round((start - down) / 20) * 20;
  return name === "level_ft" && attempt?.lowest_ft != null ? attempt.lowest_ft : ft;
}
