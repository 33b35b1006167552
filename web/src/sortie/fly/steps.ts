/** The keys of one figure in the order of their use, and the height that each offers before it is set. */
import type { Attempt } from "../../api/types";
import type { FlyFigure } from "./figures";

export type HeightStep = "start_ft" | "recover_ft" | "lowest_ft" | "level_ft" | "taken_over_ft";
export type Step = HeightStep | "feel" | "went";

export const STEP_WORDS: Record<Step, string> = {
  start_ft: "gate",
  recover_ft: "recover",
  lowest_ft: "lowest",
  level_ft: "level",
  taken_over_ft: "taken over",
  feel: "feel",
  went: "faults",
};
/** What is called, or done, when the key is tapped. */
export const KEY_WORDS: Record<HeightStep, string> = {
  start_ft: "At the gate",
  recover_ft: "Recover",
  lowest_ft: "Lowest",
  level_ft: "Level",
  taken_over_ft: "Taken over",
};

export const NOTCH_FT = 20,
  FAST_NOTCH_FT = 100;

const ALWAYS: Step[] = ["start_ft", "recover_ft", "lowest_ft", "level_ft", "feel", "went"];

export function stepsOf(attempt: Attempt | null): Step[] {
  if (attempt?.taken_over_ft == null) return ALWAYS;
  return ["start_ft", "taken_over_ft", ...ALWAYS.slice(1)];
}

export function isHeight(step: Step): step is HeightStep {
  return step.endsWith("_ft");
}

export function heightAt(attempt: Attempt | null, step: HeightStep): number | null {
  return attempt?.[step] ?? null;
}

/** What is to be noted next: the first that is not, and what went wrong when all is. */
export function nextStep(attempt: Attempt | null): Step {
  const open = (step: Step) =>
    isHeight(step) ? heightAt(attempt, step) === null : step === "feel" && attempt?.feel == null;
  return stepsOf(attempt).find(open) ?? "went";
}

/** What a key offers before it is set: the plan's own height, from the start that was flown. */
export function preset(figure: FlyFigure, attempt: Attempt | null, step: HeightStep): number {
  const its = figure.answer;
  const start = attempt?.start_ft ?? its?.start.value ?? figure.planned.start_ft;
  const likely = its?.likely.value ?? 0;
  if (step === "level_ft" && attempt?.lowest_ft != null) return attempt.lowest_ft;
  if (step === "taken_over_ft") return rounded(its?.take_over.value ?? start);
  const down = {
    start_ft: 0,
    recover_ft: its ? its.start.value - its.recovers.value : 0,
    lowest_ft: likely,
    level_ft: likely,
  }[step];
  return rounded(start - down);
}

function rounded(ft: number): number {
  return Math.max(0, Math.round(ft / NOTCH_FT) * NOTCH_FT);
}
