import { api } from "../../api/client";
import type { Attempt, FigureFound, Recorded } from "../../api/types";
import { FigureTrace } from "../../charts/FigureTrace";
import type { SortieWork } from "../useSortie";

/** Of the last recording that counts and has it. */
export function foundIn(recordings: readonly Recorded[], attempt: string): FigureFound | null {
  for (const one of [...recordings].reverse()) {
    const found = one.set_aside ? undefined : one.flight.figures.find((f) => f.attempt === attempt);
    if (found) return found;
  }
  return null;
}

interface Props {
  work: SortieWork;
  attempt: Attempt;
  found: FigureFound;
  title: string;
}

/** The attempt as it was recorded; nothing while it is fetched. */
export function AttemptTrace({ work, attempt, found, title }: Props) {
  const path = { sortie_id: work.sortie.id, attempt: attempt.id };
  const trace = api.useQuery("get", "/api/sorties/{sortie_id}/traces/{attempt}", { params: { path } }).data;
  const figure = work.answer.figures.find((f) => f.id === attempt.planned.id);
  if (!trace || trace.height_ft.length === 0) return null;
  return (
    <FigureTrace
      trace={trace}
      found={found}
      profile={figure?.profile ?? []}
      floor_ft={work.answer.floor.value}
      title={title}
    />
  );
}
