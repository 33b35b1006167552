/** Where the flight is, read from what was noted. */
import type { Attempt, Entry, PlanAnswer } from "../../api/types";

type InFlight = NonNullable<PlanAnswer["flight"]>;
type After = InFlight["figures"][number]["then"][number];

/** When the first figure began, as ISO: the first gate that was noted and not taken back. */
export function beganAt(entries: readonly Entry[]): string | null {
  const gates = entries.filter((e) => e.what === "start_ft" && e.value != null);
  const times = gates.map((e) => Date.parse(e.at) + e.offset_s * 1000);
  return times.length === 0 ? null : new Date(Math.min(...times)).toISOString();
}

export function startedAt(began: string): number {
  return Date.parse(began);
}

/** The height that was noted last: level, or the lowest before it. */
export function lastHeight(attempts: readonly Attempt[]): number | null {
  const last = attempts.filter((a) => a.level_ft != null || a.lowest_ft != null).at(-1);
  return last?.level_ft ?? last?.lowest_ft ?? null;
}

/** The figure whose gate is next: this one until its lowest height is noted or it is left out, then the one after it. */
export function headedFor<F extends { planned: { id: string } }>(
  figures: readonly F[],
  at: number,
  attempt: Attempt | null,
): F | undefined {
  const done = attempt?.lowest_ft != null || attempt?.skipped === true;
  return (done && figures[at + 1]) || figures[at];
}

/** The figures that are still to be flown from `next` on, each with minutes and comfort from its gate. Where some between
 * are flown already, what they would have cost is counted: never less is said than is needed. */
export function figuresLeft(
  answer: PlanAnswer,
  attempts: readonly Attempt[],
  next: string | null,
): readonly After[] {
  const then = answer.flight?.figures.find((f) => f.id === next)?.then ?? [];
  const done = new Set(attempts.filter((a) => a.lowest_ft != null || a.skipped).map((a) => a.planned.id));
  return then.filter((one) => !done.has(one.id));
}

/** The comfort load of what was flown. */
export function comfortSoFar(answer: PlanAnswer, attempts: readonly Attempt[]): number {
  const own = new Map(answer.flight?.figures.map((f) => [f.id, f.then[0]?.comfort ?? 0]));
  return attempts.filter((a) => !a.skipped).reduce((sum, a) => sum + (own.get(a.planned.id) ?? 0), 0);
}

/** The most g of what was noted, and the student's last number. */
export function soFar(attempts: readonly Attempt[]): { most_g: number | null; feel: number | null } {
  const g = attempts.flatMap((a) => (a.most_g == null ? [] : [a.most_g]));
  return {
    most_g: g.length > 0 ? Math.max(...g) : null,
    feel: attempts.filter((a) => a.feel != null).at(-1)?.feel ?? null,
  };
}
