import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { answered, api, Failed, Overtaken, server } from "../api/client";
import { askAgain } from "../api/questions";
import type { Conflict, Problem, Sortie } from "../api/types";
import { changedSheets, draftOf, type Draft } from "./draft";
import { forget, keep, kept } from "./kept";

type SaveState = "saved" | "saving" | "unsaved" | "refused" | "offline";
const SAVE_AFTER_MS = 600;

/** What the server has of a sortie, and the way there: changed sheets are kept in the browser and stored by themselves,
 * and somebody else's save is noticed before it is overwritten. */
export function useStoring(first: Sortie, draft: Draft) {
  const queries = useQueryClient();
  const [sortie, setSortie] = useState(first);
  const stored = useRef<Draft>(draftOf(first));
  const version = useRef(kept(first.id)?.version ?? first.version);
  const [onServer, setOnServer] = useState<Draft>(() => draftOf(first));
  const [phase, setPhase] = useState<"idle" | "saving" | "refused" | "offline">("idle");
  const [problems, setProblems] = useState<Problem[]>([]);
  const [conflict, setConflict] = useState<Conflict | null>(null);
  const dirty = useMemo(() => Object.keys(changedSheets(onServer, draft)).length > 0, [onServer, draft]);
  const save: SaveState =
    phase === "saving" ? "saving" : !dirty ? "saved" : phase === "idle" ? "unsaved" : phase;

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

  const theirs = useCallback(
    () => answered(server.GET("/api/sorties/{sortie_id}", { params: { path: { sortie_id: first.id } } })),
    [first.id],
  );

  /** The version on the server wins. */
  const takeOver = useCallback(
    (next: Sortie) => {
      nowStored(draftOf(next));
      accept(next);
      setConflict(null);
    },
    [accept, nowStored],
  );

  /** The draft is put on top of the version on the server, knowingly. */
  const buildOn = useCallback((next: Sortie) => {
    version.current = next.version;
    stored.current = draftOf(next);
    setOnServer(draftOf(next));
    setConflict(null);
  }, []);

  /** Store, then ask for something of the stored sortie. `then`: what to do where it could not be stored; `take`: what
   * is done with the answer. */
  const afterStoring = useCallback(
    (
      ask: (version: number) => Promise<Sortie>,
      then: string,
      take: (next: Sortie) => void = accept,
    ): Promise<Problem[]> =>
      inTurn(async () => {
        if (!(await storeNow(draft))) return [{ where: "sortie", what: "it is not stored yet", do: then }];
        try {
          take(await ask(version.current));
          return [];
        } catch (error) {
          if (error instanceof Overtaken) setConflict(error.conflict);
          return error instanceof Failed ? error.problems : [];
        }
      }),
    [accept, draft, inTurn, storeNow],
  );

  return { sortie, save, problems, conflict, accept, theirs, takeOver, buildOn, afterStoring };
}
