/** The lines that a flight must not cross, as the core drew them; which of them a noted number crosses. */
import type { Attempt } from "../../api/types";
import type { FlyFigure, Line } from "./figures";

export interface Crossed {
  line: Line;
  value: number;
}

/** before: the student's number before this one. minutes: since the first figure. */
export function crossedBy(
  figure: FlyFigure,
  attempt: Attempt | null,
  before: number | null,
  minutes: number | null,
): Crossed[] {
  const heights = [attempt?.lowest_ft, attempt?.level_ft].filter((ft) => ft != null);
  const values: Partial<Record<Line["of"], number>> = {
    ...(heights.length > 0 && { height: Math.min(...heights) }),
    ...(attempt?.recover_ft != null && { recover: attempt.recover_ft }),
    ...(attempt?.most_g != null && { most_g: attempt.most_g }),
    ...(attempt?.feel != null && { feel: attempt.feel }),
    ...(attempt?.feel != null && before !== null && { feel_drop: before - attempt.feel }),
    ...(minutes !== null && { minutes }),
    ...(attempt?.rolling_g != null && { rolling_g: attempt.rolling_g }),
    ...(attempt?.fastest_ias != null && { ias: attempt.fastest_ias }),
  };
  const crossed = figure.lines.flatMap((line): Crossed[] => {
    const value = values[line.of];
    const beyond =
      value !== undefined && (line.side === "below" ? value < line.limit.value : value > line.limit.value);
    return beyond ? [{ line, value }] : [];
  });
  // The graver is said. Who has taken over is not told to.
  const mine = attempt?.taken_over_ft != null || crossed.some((c) => c.line.kind === "floor");
  return crossed.filter((c) => !(mine && c.line.kind === "take-over height"));
}

/** Those that nobody has been told of yet. */
export function untold(crossed: readonly Crossed[], attempt: Attempt | null): Crossed[] {
  const told = new Set(attempt?.stops.map((s) => s.kind));
  return crossed.filter((c) => !told.has(c.line.kind));
}
