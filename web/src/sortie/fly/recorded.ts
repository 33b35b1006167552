/** What the marks of the recorder say of an attempt, and of which. */
import type { Attempt, Entry } from "../../api/types";
import type { Mark, MarkKind } from "../../device/recorder";
import { standingAt } from "../../notes/addUp";
import { nextGo, lastGo, type Edits, type Go } from "../../notes/entry";
import type { FlyFigure } from "./figures";
import type { HeightStep } from "./steps";

/** As they are read, to ten feet and a tenth; where a line is drawn at it, to the side of the line: no rounding hides that
 * it was crossed. */
const feet = (value: number) => Math.round(value / 10) * 10,
  downToTen = (value: number) => Math.floor(value / 10) * 10,
  tenths = (value: number) => Math.round(value * 10) / 10,
  upToTenth = (value: number) => Math.ceil(value * 10 - 1e-6) / 10;

/** What is noted of a mark. */
const NOTED: Record<MarkKind, (value: number) => Edits> = {
  begins: (ft) => ({ start_ft: feet(ft) }),
  recovers: (ft) => ({ recover_ft: downToTen(ft) }),
  lowest: (ft) => ({ lowest_ft: downToTen(ft) }),
  level: (ft) => ({ level_ft: downToTen(ft) }),
  "most g": (g) => ({ most_g: upToTenth(g) }),
  "most g while rolling": (g) => ({ rolling_g: upToTenth(g) }),
  fastest: (ias) => ({ fastest_ias: Math.ceil(ias - 1e-6) }),
  turns: (n) => ({ turns: tenths(n) }),
};

export function editsOf(mark: Mark): Edits {
  return NOTED[mark.kind](mark.value);
}

/** Whether somebody has said that this attempt is what it was: the next that is found is another. */
function confirmed(attempt: Attempt | null, entries: readonly Entry[]): boolean {
  if (!attempt) return false;
  const byHand = (["lowest_ft", "level_ft"] as const).some((step) =>
    standingAt(entries, attempt.id, step, "").some((e) => e.source === "hand" && e.value != null),
  );
  return byHand || attempt.feel != null || attempt.skipped || Boolean(attempt.abandoned);
}

/** To which go a figure belongs that begins now: to the one that is looked at, until somebody has confirmed it; a turn
 * to look around is overwritten by the figure that comes after it. Then to the next figure, or to another go. */
export function goThatBegins(
  figures: readonly FlyFigure[],
  current: Go,
  attempts: readonly Attempt[],
  entries: readonly Entry[],
): Go {
  const attempt = attempts.find((a) => a.id === current.id) ?? null;
  if (!confirmed(attempt, entries)) return current;
  const at = figures.findIndex((f) => f.planned.id === current.planned.id);
  const next = figures[at + 1];
  if (next && !attempts.some((a) => a.planned.id === next.planned.id)) return lastGo(attempts, next.planned);
  return nextGo(attempts, current.planned);
}

/** Whether what stands at a height is the recorder's and nobody has confirmed it. */
export function isRecorders(entries: readonly Entry[], attempt: Attempt | null, step: HeightStep): boolean {
  if (attempt?.[step] == null) return false;
  const there = standingAt(entries, attempt.id, step, "").filter((e) => e.value != null);
  return there.length > 0 && there.every((e) => e.source === "recorder");
}
