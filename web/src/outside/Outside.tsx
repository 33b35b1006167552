import { useMemo, type ReactNode } from "react";
import { usePlaces } from "../api/questions";
import type { Sortie } from "../api/types";
import type { Draft } from "../sortie/draft";
import { SceneryContext, sceneryOf, SOMEWHERE } from "./scenery";

/** What is out of the window in all pictures within: the sortie's place on its day, at its time. */
export function OutsideOf({
  sortie,
  draft,
  children,
}: {
  sortie: Sortie;
  draft: Draft;
  children: ReactNode;
}) {
  const place = usePlaces().data?.find((p) => p.id === draft.place_id)?.place;
  const { day } = draft.plan;
  const at = sortie.planned_for;
  const scenery = useMemo(() => (place ? sceneryOf(place, day, new Date(at)) : SOMEWHERE), [place, day, at]);
  return <SceneryContext value={scenery}>{children}</SceneryContext>;
}
