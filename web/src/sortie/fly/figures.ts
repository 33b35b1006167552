/** What can be flown on this page: the figures of the plan, and those that somebody adds in the air. */
import type { Attempt, Catalogue, FigureAnswer, PlanAnswer, PlannedFigure } from "../../api/types";

type InFlight = NonNullable<PlanAnswer["flight"]>;
export type Line = InFlight["lines"][number];
type Kind = Catalogue["figures"][number];

export interface FlyFigure {
  planned: PlannedFigure;
  title: string;
  /** What it is called to the other side; null where it has none. */ otherSide: string | null;
  /** As computed; null for one that was not planned. */ answer: FigureAnswer | null;
  faults: Kind["faults"];
  outcomes: Kind["outcomes"];
  /** Its own lines and those of the flight. */ lines: readonly Line[];
  /** Of one that the student does not know: how it is brought about, and the first input that is right. */
  setUp?: { how: string; firstInput: string };
}

/** In the order of the plan, then those that were flown besides it. */
export function flyFigures(
  planned: readonly PlannedFigure[],
  answer: PlanAnswer,
  attempts: readonly Attempt[],
  catalogue: Catalogue | undefined,
): FlyFigure[] {
  const of_plan = planned.flatMap((one) => {
    const figure = ofThePlan(one, answer, catalogue);
    return figure ? [figure] : [];
  });
  of_plan.push(...setUps(answer, catalogue));
  const known = new Set(of_plan.map((f) => f.planned.id));
  const beside = new Map(
    attempts.filter((a) => !known.has(a.planned.id)).map((a) => [a.planned.id, a.planned]),
  );
  return [...of_plan, ...[...beside.values()].map((one) => unplanned(one, answer, catalogue))];
}

function ofThePlan(
  planned: PlannedFigure,
  answer: PlanAnswer,
  catalogue: Catalogue | undefined,
): FlyFigure | null {
  const its = answer.figures.find((f) => f.id === planned.id);
  const flight = answer.flight?.figures.find((f) => f.id === planned.id);
  if (!its) return null;
  return {
    planned,
    title: its.title,
    otherSide: flight?.other_side ?? null,
    answer: its,
    faults: its.faults,
    outcomes: catalogue?.figures.find((f) => f.key === planned.key)?.outcomes ?? [],
    lines: linesOf(planned.id, answer),
  };
}

function setUps(answer: PlanAnswer, catalogue: Catalogue | undefined): FlyFigure[] {
  return (answer.drawn?.set_ups ?? []).map((one) => ({
    planned: one.planned,
    title: one.answer.title,
    otherSide: null,
    answer: one.answer,
    faults: one.answer.faults,
    outcomes: catalogue?.figures.find((f) => f.key === one.planned.key)?.outcomes ?? [],
    lines: linesOf(one.planned.id, answer),
    setUp: { how: one.how, firstInput: one.first_input },
  }));
}

function linesOf(id: string, answer: PlanAnswer): Line[] {
  const own = answer.flight?.figures.find((f) => f.id === id)?.lines ?? [];
  return [...own, ...(answer.flight?.lines ?? [])];
}

/** A figure that the plan does not have: it keeps the highest floor of those that it has. */
export function unplanned(
  planned: PlannedFigure,
  answer: PlanAnswer,
  catalogue: Catalogue | undefined,
): FlyFigure {
  const kind = catalogue?.figures.find((f) => f.key === planned.key);
  const floors = (answer.flight?.figures ?? []).flatMap((f) => f.lines.filter((l) => l.kind === "floor"));
  const floor = floors.sort((a, b) => b.limit.value - a.limit.value).slice(0, 1);
  return {
    planned,
    title: `${kind?.name ?? "Figure"}${kind?.has_sides ? `, ${planned.side}` : ""}`,
    otherSide: null,
    answer: null,
    faults: kind?.faults ?? [],
    outcomes: kind?.outcomes ?? [],
    lines: [...floor, ...(answer.flight?.lines ?? [])],
  };
}

/** The same figure to the other side. */
export function mirrored(planned: PlannedFigure): PlannedFigure {
  return { ...planned, side: planned.side === "left" ? "right" : "left" };
}

/** Its title with the side that was flown. */
export function titleOf(figure: FlyFigure, planned: PlannedFigure): string {
  return planned.side === figure.planned.side ? figure.title : (figure.otherSide ?? figure.title);
}
