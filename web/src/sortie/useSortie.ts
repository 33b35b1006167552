import { useCallback, useEffect, useMemo, useState } from "react";
import { answered, Failed, problemAt, server } from "../api/client";
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
import { useNotes } from "../notes/useNotes";
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
export type Booking = { planned_for?: string; instructor_id: number } | { reason: string | null };

const REFRESH_MS = 400;

/** One sortie being worked on: the draft with undo, stored by itself, its plan computed as it changes, and what is noted
 * of it. stage: where the person works; undo takes back only what was done there. person: who works, by number. */
export function useSortie(first: Sortie, stage = "plan", person = 0) {
  const [history, setHistory] = useState(() => {
    const here = kept(first.id);
    const start = begin(draftOf(first));
    return here && first.may.save ? changed(start, here.draft, { stage }) : start;
  });
  const draft = history.now;
  const { sortie, save, problems, meanwhile, accept, buildOn, afterStoring, refresh } = useStoring(
    first,
    draft,
  );
  const notes = useNotes(person, sortie, stage);
  const { answer, refusal, stale } = useComputed(sortie, draft, sortie.may.save);
  const [told, setTold] = useState<Told | null>(null);

  const change = useCallback(
    (edit: (draft: Draft) => Draft, gesture?: string) =>
      setHistory((h) => changed(h, edit(h.now), { gesture, stage })),
    [stage],
  );

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
  /** The server is asked when it has all that was noted. */
  const { flush, count } = notes;
  const allSent = useCallback(async () => {
    if (!(await flush()))
      throw new Failed(0, [
        problemAt(
          "Entries",
          "some of what was noted is not sent yet",
          "Try again when there is a connection.",
        ),
      ]);
  }, [flush]);
  const moveTo = useCallback(
    (to: Exclude<Stage, "signed">) =>
      afterStoring(async (version) => {
        await allSent();
        return answered(
          server.POST("/api/sorties/{sortie_id}/stage", { params: path, body: { version, to } }),
        );
      }, "Mend what is wrong above, then try again."),
    [afterStoring, allSent, path],
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
      afterStoring(async (version) => {
        await allSent();
        const body = { version, noted: count, password };
        return answered(server.POST("/api/sorties/{sortie_id}/sign", { params: path, body }));
      }, "Mend what is wrong, then sign."),
    [afterStoring, allSent, count, path],
  );
  // What was noted changes what the server makes of it: accounts, doubts, what is missing. In the air nobody reads those.
  const unread = notes.waiting === 0 && notes.count > sortie.entries.length && stage !== "fly";
  useEffect(() => {
    if (!unread) return;
    const soon = setTimeout(() => void refresh(), REFRESH_MS);
    return () => clearTimeout(soon);
  }, [unread, refresh, notes.count]);

  const last = undoable(history, stage),
    next = redoable(history, stage);
  // Of what was noted and what was changed on the sheets, the later is taken back first.
  const undoesNote = notes.undoAt > (last?.at ?? 0),
    redoesNote = notes.redoAt > 0 && notes.redoAt < (next?.at ?? Infinity);
  const canUndo = last !== null || undoesNote,
    canRedo = next !== null || redoesNote,
    undoesTheirs = undoesNote ? "" : (last?.from ?? "");
  const { undo: undoNote, redo: redoNote } = notes;
  const undo = useCallback(
    () => (undoesNote ? undoNote() : setHistory((h) => undone(h, stage))),
    [undoesNote, undoNote, stage],
  );
  const redo = useCallback(
    () => (redoesNote ? redoNote() : setHistory((h) => redone(h, stage))),
    [redoesNote, redoNote, stage],
  );
  const undoShows = useMemo(() => last && figureThatDiffers(history.now, last.draft), [history.now, last]);
  const redoShows = useMemo(() => next && figureThatDiffers(history.now, next.draft), [history.now, next]);
  const heard = useCallback(() => setTold(null), []);
  // The same object while nothing of it changed: parts of the screen are drawn later than the hand moves, by comparing it.
  return useMemo(
    () => ({
      sortie,
      draft,
      notes,
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
      refresh,
      canUndo,
      canRedo,
      undoesTheirs,
      undoShows,
      redoShows,
    }),
    [
      sortie,
      draft,
      notes,
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
      refresh,
      canUndo,
      canRedo,
      undoesTheirs,
      undoShows,
      redoShows,
    ],
  );
}

export type SortieWork = ReturnType<typeof useSortie>;
