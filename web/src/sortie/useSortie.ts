import { useCallback, useEffect, useMemo, useState } from "react";
import { answered, server } from "../api/client";
import type { Sortie, Stage } from "../api/types";
import {
  begin,
  changed,
  draftOf,
  figureThatDiffers,
  redoable,
  redone,
  undoable,
  undone,
  type Draft,
} from "./draft";
import { kept } from "./kept";
import { differs, merged, type Choice, type Clash } from "./merge";
import { useComputed } from "./useComputed";
import { useStoring } from "./useStoring";

/** What came of another person's save: told once it was put together with ours. */
export interface Told {
  by: string;
  at: string;
  places: string[];
}

/** Another time or instructor; or a reason to cancel it, null to put it back. */
export type Booking = { planned_for: string; instructor_id: number } | { reason: string | null };

/** One sortie being worked on: the draft with undo, stored by itself, and its plan computed as it changes. stage: where
 * the person works; undo takes back only what was done there. */
export function useSortie(first: Sortie, stage = "plan") {
  const [history, setHistory] = useState(() => {
    const here = kept(first.id);
    const start = begin(draftOf(first));
    return here && first.may.save ? changed(start, here.draft, { stage }) : start;
  });
  const draft = history.now;
  const { sortie, save, problems, meanwhile, accept, buildOn, afterStoring } = useStoring(first, draft);
  const { answer, refusal, stale } = useComputed(sortie, draft, sortie.may.save);
  const [told, setTold] = useState<Told | null>(null);

  const change = useCallback(
    (edit: (draft: Draft) => Draft, gesture?: string) =>
      setHistory((h) => changed(h, edit(h.now), { gesture, stage })),
    [stage],
  );
  const redo = useCallback(() => setHistory((h) => redone(h, stage)), [stage]);
  const undo = useCallback(() => setHistory((h) => undone(h, stage)), [stage]);

  // What only one of the two changed stands beside what the other did; what both changed is asked for.
  const clashes: Clash[] = useMemo(
    () => (meanwhile ? merged(meanwhile.base, draft, draftOf(meanwhile.theirs)).clashes : []),
    [meanwhile, draft],
  );
  const putTogether = useCallback(
    (choose: (where: string) => Choice) => {
      if (!meanwhile) return;
      const { base, theirs, conflict } = meanwhile;
      const from = conflict.by;
      const [was, now] = [base, draftOf(theirs)];
      const next = merged(was, draft, now, choose).result;
      setHistory((h) => changed(h, next, { stage, from }));
      const theirOwn = conflict.differences.filter((d) => differs(was, now, d.where));
      setTold({ by: from, at: conflict.at, places: theirOwn.map((d) => d.place) });
      buildOn(theirs);
    },
    [buildOn, draft, meanwhile, stage],
  );
  useEffect(() => {
    if (!meanwhile || clashes.length > 0) return;
    const soon = setTimeout(() => putTogether(() => "mine"));
    return () => clearTimeout(soon);
  }, [meanwhile, clashes, putTogether]);

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
  /** What the server made of it is what is worked on next. */
  const goOnWith = useCallback(
    (next: Sortie) => {
      buildOn(next);
      setHistory((h) => changed(h, draftOf(next), { stage }));
    },
    [buildOn, stage],
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
        goOnWith,
      ),
    [afterStoring, goOnWith, path],
  );
  const book = useCallback(
    (booking: Booking) =>
      afterStoring(
        (version) =>
          answered(
            "reason" in booking
              ? server.POST("/api/sorties/{sortie_id}/cancel", {
                  params: path,
                  body: { version, ...booking },
                })
              : server.POST("/api/sorties/{sortie_id}/booking", {
                  params: path,
                  body: { version, ...booking },
                }),
          ),
        "Mend what is wrong above, then try again.",
        goOnWith,
      ),
    [afterStoring, goOnWith, path],
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

  const last = undoable(history, stage),
    next = redoable(history, stage);
  const canUndo = last !== null,
    canRedo = next !== null,
    undoesTheirs = last?.from ?? "";
  const undoShows = useMemo(() => last && figureThatDiffers(history.now, last.draft), [history.now, last]);
  const redoShows = useMemo(() => next && figureThatDiffers(history.now, next.draft), [history.now, next]);
  const heard = useCallback(() => setTold(null), []);
  // The same object while nothing of it changed: parts of the screen are drawn later than the hand moves, by comparing it.
  return useMemo(
    () => ({
      sortie,
      draft,
      answer,
      refusal,
      stale,
      save,
      problems,
      meanwhile,
      clashes,
      told,
      heard,
      change,
      undo,
      redo,
      putTogether,
      moveTo,
      takeNewer,
      book,
      sign,
      accept,
      canUndo,
      canRedo,
      undoesTheirs,
      undoShows,
      redoShows,
    }),
    [
      sortie,
      draft,
      answer,
      refusal,
      stale,
      save,
      problems,
      meanwhile,
      clashes,
      told,
      heard,
      change,
      undo,
      redo,
      putTogether,
      moveTo,
      takeNewer,
      book,
      sign,
      accept,
      canUndo,
      canRedo,
      undoesTheirs,
      undoShows,
      redoShows,
    ],
  );
}

export type SortieWork = ReturnType<typeof useSortie>;
