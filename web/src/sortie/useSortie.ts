import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { answered, api, Failed, Overtaken, server } from "../api/client";
import { askAgain } from "../api/questions";
import type { Conflict, PlanAnswer, Problem, Sortie, Stage } from "../api/types";
import { begin, changed, changedSheets, draftOf, redone, undone, type Draft } from "./draft";
import { forget, keep, kept } from "./kept";

export type SaveState = "saved" | "saving" | "unsaved" | "refused" | "offline";
const SAVE_AFTER_MS = 600,
  BREATH_MS = 90;

/** One sortie being worked on: the draft with undo, kept in the browser and stored by itself; the plan computed as it
 * changes; and somebody else's save noticed before it is overwritten. */
export function useSortie(first: Sortie) {
  const queries = useQueryClient();
  const [sortie, setSortie] = useState(first);
  const [history, setHistory] = useState(() => {
    const here = kept(first.id);
    const start = begin(draftOf(first));
    return here && first.may.save ? changed(start, here.draft) : start;
  });
  const stored = useRef<Draft>(draftOf(first));
  const version = useRef(kept(first.id)?.version ?? first.version);
  const [onServer, setOnServer] = useState<Draft>(() => draftOf(first));
  const [phase, setPhase] = useState<"idle" | "saving" | "refused" | "offline">("idle");
  const [problems, setProblems] = useState<Problem[]>([]);
  const [conflict, setConflict] = useState<Conflict | null>(null);
  const draft = history.now;
  const dirty = useMemo(() => Object.keys(changedSheets(onServer, draft)).length > 0, [onServer, draft]);
  const save: SaveState =
    phase === "saving" ? "saving" : !dirty ? "saved" : phase === "idle" ? "unsaved" : phase;

  const change = useCallback(
    (edit: (draft: Draft) => Draft, gesture?: string) => setHistory((h) => changed(h, edit(h.now), gesture)),
    [],
  );
  const undo = useCallback(() => setHistory(undone), []);
  const redo = useCallback(() => setHistory(redone), []);

  const nowStored = useCallback(
    (sheets: Draft) => {
      stored.current = sheets;
      setOnServer(sheets);
      setPhase("idle");
      forget(first.id);
    },
    [first.id],
  );

  const accept = useCallback(
    (next: Sortie) => {
      version.current = next.version;
      setSortie(next);
      const asked = { params: { path: { sortie_id: next.id } } };
      queries.setQueryData(api.queryOptions("get", "/api/sorties/{sortie_id}", asked).queryKey, next);
      askAgain(queries, "/api/today", "/api/students", "/api/students/{student_id}");
    },
    [queries],
  );

  // One call at a time, each on the version the last one left: we never overtake ourselves.
  const turn = useRef<Promise<unknown>>(Promise.resolve());
  const inTurn = useCallback(<T>(task: () => Promise<T>): Promise<T> => {
    const mine = turn.current.then(task);
    turn.current = mine.catch(() => undefined);
    return mine;
  }, []);

  /** Store what has changed now. True when everything is stored. */
  const storeNow = useCallback(
    async (now: Draft): Promise<boolean> => {
      const sheets = changedSheets(stored.current, now);
      if (Object.keys(sheets).length === 0) {
        return true;
      }
      setPhase("saving");
      try {
        const next = await answered(
          server.PUT("/api/sorties/{sortie_id}", {
            params: { path: { sortie_id: first.id } },
            body: { version: version.current, ...sheets },
          }),
        );
        nowStored(now);
        setProblems([]);
        accept(next);
        return true;
      } catch (error) {
        if (error instanceof Overtaken) setConflict(error.conflict);
        else if (error instanceof Failed) setProblems(error.problems);
        setPhase(
          error instanceof Failed && error.status !== 0
            ? "refused"
            : error instanceof Overtaken
              ? "idle"
              : "offline",
        );
        return false;
      }
    },
    [accept, first.id, nowStored],
  );

  const store = useCallback((now: Draft) => inTurn(() => storeNow(now)), [inTurn, storeNow]);

  useEffect(() => {
    if (!first.may.save || conflict) return;
    if (!dirty) return forget(first.id);
    keep(first.id, version.current, draft);
    const timer = setTimeout(() => void store(draft), SAVE_AFTER_MS);
    return () => clearTimeout(timer);
  }, [draft, dirty, conflict, first.id, first.may.save, store]);

  // Leaving the screen stores at once what was still waiting its turn.
  const waiting = useRef({ draft, store, save });
  useEffect(() => {
    waiting.current = { draft, store, save };
  });
  useEffect(
    () => () => {
      const { draft: last, store: send, save: state } = waiting.current;
      if (state === "unsaved") void send(last);
    },
    [],
  );

  // When the network is back, or every few seconds while it is away, try again.
  useEffect(() => {
    if (save !== "offline") return;
    const again = setInterval(() => void store(draft), 4000);
    return () => clearInterval(again);
  }, [save, draft, store]);

  const { answer, refusal, computing } = useComputed(sortie, draft, sortie.may.save);

  /** The version on the server wins: mine is dropped. */
  const takeTheirs = useCallback(async () => {
    const next = await answered(
      server.GET("/api/sorties/{sortie_id}", { params: { path: { sortie_id: first.id } } }),
    );
    nowStored(draftOf(next));
    accept(next);
    setHistory((h) => changed(h, draftOf(next)));
    setConflict(null);
  }, [accept, first.id, nowStored]);

  /** Mine is put on top of theirs, knowingly. */
  const keepMine = useCallback(async () => {
    if (!conflict) return;
    const next = await answered(
      server.GET("/api/sorties/{sortie_id}", { params: { path: { sortie_id: first.id } } }),
    );
    version.current = next.version;
    stored.current = draftOf(next);
    setOnServer(draftOf(next));
    setConflict(null);
  }, [conflict, first.id]);

  const moveTo = useCallback(
    (to: Exclude<Stage, "signed">): Promise<Problem[]> =>
      inTurn(async () => {
        if (!(await storeNow(draft)))
          return [
            {
              where: "sortie",
              what: "it is not stored yet",
              do: "Mend what is wrong above, then try again.",
            },
          ];
        try {
          accept(
            await answered(
              server.POST("/api/sorties/{sortie_id}/stage", {
                params: { path: { sortie_id: first.id } },
                body: { version: version.current, to },
              }),
            ),
          );
          return [];
        } catch (error) {
          if (error instanceof Overtaken) {
            setConflict(error.conflict);
            return [];
          }
          return error instanceof Failed ? error.problems : [];
        }
      }),
    [accept, draft, first.id, inTurn, storeNow],
  );

  const sign = useCallback(
    (password: string): Promise<Problem[]> =>
      inTurn(async () => {
        if (!(await storeNow(draft)))
          return [{ where: "sortie", what: "it is not stored yet", do: "Mend what is wrong, then sign." }];
        try {
          accept(
            await answered(
              server.POST("/api/sorties/{sortie_id}/sign", {
                params: { path: { sortie_id: first.id } },
                body: { version: version.current, password },
              }),
            ),
          );
          return [];
        } catch (error) {
          if (error instanceof Overtaken) {
            setConflict(error.conflict);
            return [];
          }
          return error instanceof Failed ? error.problems : [];
        }
      }),
    [accept, draft, first.id, inTurn, storeNow],
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
      sign,
      accept,
      canUndo,
      canRedo,
    ],
  );
}

export type SortieWork = ReturnType<typeof useSortie>;

/** The plan of the draft, computed by the server as it changes: one request at a time, always the latest draft next. */
function useComputed(sortie: Sortie, draft: Draft, on: boolean) {
  const wanted = useMemo(
    () => JSON.stringify([draft.plan, draft.aircraft_id, draft.place_id]),
    [draft.plan, draft.aircraft_id, draft.place_id],
  );
  const base = useMemo(() => JSON.stringify([sortie.plan, sortie.aircraft_id, sortie.place_id]), [sortie]);
  const [found, setFound] = useState<{ of: string; answer: PlanAnswer; refusal: Problem[] }>({
    of: base,
    answer: sortie.answer,
    refusal: [],
  });
  const latest = useRef({ wanted, draft });
  const running = useRef(false);
  useEffect(() => {
    latest.current = { wanted, draft };
    if (!on || running.current || found.of === wanted) return;
    const run = async () => {
      running.current = true;
      for (let done = ""; done !== latest.current.wanted;) {
        const { wanted: of, draft: asked } = latest.current;
        try {
          const answer = await answered(
            server.POST("/api/sorties/{sortie_id}/preview", {
              params: { path: { sortie_id: sortie.id } },
              body: { plan: asked.plan, aircraft_id: asked.aircraft_id, place_id: asked.place_id },
            }),
          );
          setFound({ of, answer, refusal: [] });
        } catch (error) {
          setFound((f) => ({ ...f, of, refusal: error instanceof Failed ? error.problems : [] }));
        }
        done = of;
        // A breath between two questions: the hand comes before the numbers.
        if (done !== latest.current.wanted) await new Promise((later) => setTimeout(later, BREATH_MS));
      }
      running.current = false;
    };
    void run();
  }, [wanted, draft, on, found.of, sortie.id]);
  const current = on ? found : { of: base, answer: sortie.answer, refusal: [] };
  return { answer: current.answer, refusal: current.refusal, computing: on && current.of !== wanted };
}
