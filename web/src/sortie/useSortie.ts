import { useCallback, useMemo, useState } from "react";
import { answered, server } from "../api/client";
import type { Sortie, Stage } from "../api/types";
import { begin, changed, draftOf, redone, undone, type Draft } from "./draft";
import { kept } from "./kept";
import { useComputed } from "./useComputed";
import { useStoring } from "./useStoring";

/** One sortie being worked on: the draft with undo, stored by itself, and its plan computed as it changes. */
export function useSortie(first: Sortie) {
  const [history, setHistory] = useState(() => {
    const here = kept(first.id);
    const start = begin(draftOf(first));
    return here && first.may.save ? changed(start, here.draft) : start;
  });
  const draft = history.now;
  const { sortie, save, problems, conflict, accept, theirs, takeOver, buildOn, afterStoring } = useStoring(
    first,
    draft,
  );
  const { answer, refusal, computing } = useComputed(sortie, draft, sortie.may.save);

  const change = useCallback(
    (edit: (draft: Draft) => Draft, gesture?: string) => setHistory((h) => changed(h, edit(h.now), gesture)),
    [],
  );
  const undo = useCallback(() => setHistory(undone), []);
  const redo = useCallback(() => setHistory(redone), []);

  const takeTheirs = useCallback(async () => {
    const next = await theirs();
    takeOver(next);
    setHistory((h) => changed(h, draftOf(next)));
  }, [takeOver, theirs]);

  const keepMine = useCallback(async () => {
    if (conflict) buildOn(await theirs());
  }, [buildOn, conflict, theirs]);

  const path = useMemo(() => ({ path: { sortie_id: first.id } }), [first.id]);
  const moveTo = useCallback(
    (to: Exclude<Stage, "signed">) =>
      afterStoring(
        (version) =>
          answered(server.POST("/api/sorties/{sortie_id}/stage", { params: path, body: { version, to } })),
        "Mend what is wrong above, then try again.",
      ),
    [afterStoring, path],
  );
  /** The aircraft's card or the place as they are now, in place of those it was planned on. */
  const takeNewer = useCallback(
    (what: "aircraft" | "place") =>
      afterStoring(
        (version) =>
          answered(
            server.POST("/api/sorties/{sortie_id}/take-over", { params: path, body: { version, what } }),
          ),
        "Mend what is wrong above, then try again.",
        (next) => {
          takeOver(next);
          setHistory((h) => changed(h, draftOf(next)));
        },
      ),
    [afterStoring, path, takeOver],
  );
  const sign = useCallback(
    (password: string) =>
      afterStoring(
        (version) =>
          answered(
            server.POST("/api/sorties/{sortie_id}/sign", { params: path, body: { version, password } }),
          ),
        "Mend what is wrong, then sign.",
      ),
    [afterStoring, path],
  );

  const canUndo = history.past.length > 0,
    canRedo = history.future.length > 0;
  // The same object while nothing of it changed: parts of the screen are drawn later than the hand moves, by comparing it.
  return useMemo(
    () => ({
      sortie,
      draft,
      answer,
      refusal,
      computing,
      save,
      problems,
      conflict,
      change,
      undo,
      redo,
      takeTheirs,
      keepMine,
      moveTo,
      takeNewer,
      sign,
      accept,
      canUndo,
      canRedo,
    }),
    [
      sortie,
      draft,
      answer,
      refusal,
      computing,
      save,
      problems,
      conflict,
      change,
      undo,
      redo,
      takeTheirs,
      keepMine,
      moveTo,
      takeNewer,
      sign,
      accept,
      canUndo,
      canRedo,
    ],
  );
}

export type SortieWork = ReturnType<typeof useSortie>;
