/** Edits of a draft, named after what people do. */
import { identity } from "../api/identity";
import type { Check, Difference, Figure, PlanDocument, PlannedFigure } from "../api/types";
import type { Draft } from "./draft";

export function editPlan(edit: (plan: PlanDocument) => PlanDocument) {
  return (draft: Draft): Draft => ({ ...draft, plan: edit(draft.plan) });
}

export function editFigure(id: string, edit: Partial<PlannedFigure>) {
  return editPlan((plan) => ({
    ...plan,
    figures: plan.figures.map((f) => (f.id === id ? { ...f, ...edit } : f)),
  }));
}

/** One for each stop, for what stands there now; by whom, when and for how much the server writes. */
export function override({ id: check, deciding, room }: Check, reason: string, by: string) {
  const given = { id: identity(), check, reason, by, number: deciding.shown, room, title: "", spare: "" };
  return editPlan((plan) => ({
    ...plan,
    overrides: [...plan.overrides.filter((o) => o.check !== check), given],
  }));
}

/** An id that no figure of the draft has. */
export function freshId(taken: string[], letter: string): string {
  let n = taken.length + 1;
  while (taken.includes(`${letter}${n}`)) n += 1;
  return `${letter}${n}`;
}

export function addFigure(figure: Figure, after: string | null, id: string) {
  return editPlan((plan) => {
    const at = after ? plan.figures.findIndex((f) => f.id === after) : plan.figures.length - 1;
    const start = plan.figures[at]?.start_ft ?? plan.figures[plan.figures.length - 1]?.start_ft ?? 5000;
    const added: PlannedFigure = {
      id,
      key: figure.key,
      side: "left",
      start_ft: start,
      entry_ias: null,
      parameters: {},
      school: null,
      flown_by: "student with talk",
    };
    return { ...plan, figures: [...plan.figures.slice(0, at + 1), added, ...plan.figures.slice(at + 1)] };
  });
}

export function removeFigure(id: string) {
  return editPlan((plan) => ({ ...plan, figures: plan.figures.filter((f) => f.id !== id) }));
}

/** To a place counted from 0; beyond the ends it stays where it is. */
export function placeFigure(id: string, to: number) {
  return editPlan((plan) => {
    const one = plan.figures.find((f) => f.id === id);
    if (!one || to < 0 || to >= plan.figures.length) return plan;
    const others = plan.figures.filter((f) => f.id !== id);
    return { ...plan, figures: [...others.slice(0, to), one, ...others.slice(to)] };
  });
}

/** The same once more after itself; mirrored: to the other side. */
export function repeatFigure(id: string, fresh: string, mirrored: boolean) {
  return editPlan((plan) => {
    const at = plan.figures.findIndex((f) => f.id === id),
      one = plan.figures[at];
    if (!one) return plan;
    const side = mirrored ? (one.side === "left" ? "right" : "left") : one.side;
    return {
      ...plan,
      figures: [...plan.figures.slice(0, at + 1), { ...one, id: fresh, side }, ...plan.figures.slice(at + 1)],
    };
  });
}

/** Only the chosen parts of a proposal. */
export function acceptFit(proposal: PlanDocument, chosen: readonly Difference[]) {
  return editPlan((plan) => {
    const takes = (kind: Difference["kind"], figure: string | null) =>
      chosen.some((d) => d.kind === kind && d.figure === figure);
    const proposed = new Map(proposal.figures.map((f) => [f.id, f]));
    let figures = plan.figures
      .filter((f) => !takes("without", f.id))
      .map((f) => {
        const other = proposed.get(f.id);
        if (!other) return f;
        return {
          ...f,
          ...(takes("start", f.id) && { start_ft: other.start_ft }),
          ...(takes("settings", f.id) && { key: other.key, parameters: other.parameters }),
        };
      });
    if (takes("order", null)) {
      const rank = new Map(proposal.figures.map((f, i) => [f.id, i]));
      figures = [...figures].sort((a, b) => (rank.get(a.id) ?? 99) - (rank.get(b.id) ?? 99));
    }
    return { ...plan, figures, load: takes("load", null) ? proposal.load : plan.load };
  });
}
