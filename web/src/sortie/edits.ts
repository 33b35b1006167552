/** Edits of a draft, named after what people do. */
import type { Attempt, Figure, PlanDocument, PlannedFigure } from "../api/types";
import type { Draft } from "./draft";

export function editPlan(edit: (plan: PlanDocument) => PlanDocument) {
  return (draft: Draft): Draft => ({ ...draft, plan: edit(draft.plan) });
}

export function editFigure(id: string, edit: Partial<PlannedFigure>) {
  return editPlan((plan) => ({ ...plan, figures: plan.figures.map((f) => (f.id === id ? { ...f, ...edit } : f)) }));
}

/** An id that no figure or attempt of the draft has. */
export function freshId(taken: string[], letter: string): string {
  let n = taken.length + 1;
  while (taken.includes(`${letter}${n}`)) n += 1;
  return `${letter}${n}`;
}

export function addFigure(figure: Figure, after: string | null, id: string) {
  return editPlan((plan) => {
    const at = after ? plan.figures.findIndex((f) => f.id === after) : plan.figures.length - 1;
    const start = plan.figures[at]?.start_ft ?? plan.figures[plan.figures.length - 1]?.start_ft ?? 5000;
    const added: PlannedFigure = { id, key: figure.key, side: "left", start_ft: start, entry_ias: null, parameters: {}, school: null, flown_by: "student with talk" };
    return { ...plan, figures: [...plan.figures.slice(0, at + 1), added, ...plan.figures.slice(at + 1)] };
  });
}

export function removeFigure(id: string) {
  return editPlan((plan) => ({ ...plan, figures: plan.figures.filter((f) => f.id !== id) }));
}

export function moveFigure(id: string, by: -1 | 1) {
  return editPlan((plan) => {
    const at = plan.figures.findIndex((f) => f.id === id), to = at + by;
    const figures = [...plan.figures], one = figures[at], other = figures[to];
    if (!one || !other) return plan;
    figures[at] = other;
    figures[to] = one;
    return { ...plan, figures };
  });
}

export function editAttempt(id: string, edit: Partial<Attempt>) {
  return (draft: Draft): Draft => ({ ...draft, attempts: draft.attempts.map((a) => (a.id === id ? { ...a, ...edit } : a)) });
}

export function newAttempt(planned: PlannedFigure, taken: string[]): Attempt {
  const flown_by = planned.flown_by === "instructor shows" ? "instructor" : planned.flown_by === "student alone" ? "student" : "student with talk";
  return { id: freshId(taken, "a"), planned, flown_by, faults: [], note: "", skipped: false };
}

/** The attempt of a figure that is being noted: the last one, or a new one. */
export function withAttempt(draft: Draft, planned: PlannedFigure): { draft: Draft; attempt: Attempt } {
  const there = draft.attempts.filter((a) => a.planned.id === planned.id).at(-1);
  if (there) return { draft, attempt: there };
  const attempt = newAttempt(planned, draft.attempts.map((a) => a.id));
  const order = draft.plan.figures.map((f) => f.id);
  const attempts = [...draft.attempts, attempt].sort((a, b) => order.indexOf(a.planned.id) - order.indexOf(b.planned.id));
  return { draft: { ...draft, attempts }, attempt };
}
