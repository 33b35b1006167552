import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { answered, api, Failed, Overtaken, problemAt, server } from "../api/client";
import { askAgain } from "../api/questions";
import type { Conflict, Problem, Sortie } from "../api/types";
import { withWorking } from "../why/working";
import { changedSheets, draftOf, withoutWrong, type Draft } from "./draft";
import { forget, keep, kept } from "./kept";

export type SaveState = "saved" | "saving" | "unsaved" | "refused" | "offline" | "overtaken";
const SAVE_AFTER_MS = 600,
  OFFLINE_MS = 4000;

/** What somebody else stored meanwhile: what they said of it, what they stored, and what both began with. */
export interface Meanwhile {
  conflict: Conflict;
  base: Draft;
  theirs: Sortie;
}

/** What the server has of a sortie, and the way there: changed sheets are kept in the browser and stored by themselves,
 * what is wrong with one entry does not keep the others from being stored, and somebody else's save is noticed before it
 * is overwritten. */
export function useStoring(first: Sortie, draft: Draft) {
  const queries = useQueryClient();
  const [sortie, setSortie] = useState(() => known(first));
  const stored = useRef<Draft>(draftOf(first));
  const version = useRef(kept(first.id)?.version ?? first.version);
  const [onServer, setOnServer] = useState<Draft>(() => draftOf(first));
  const [phase, setPhase] = useState<Exclude<SaveState, "saved" | "unsaved"> | "idle">("idle");
  const [problems, setProblems] = useState<Problem[]>([]);
  const [meanwhile, setMeanwhile] = useState<Meanwhile | null>(null);
  const dirty = useMemo(() => Object.keys(changedSheets(onServer, draft)).length > 0, [onServer, draft]);
  const save: SaveState =
    phase === "saving" || phase === "overtaken"
      ? phase
      : !dirty
        ? "saved"
        : phase === "idle"
          ? "unsaved"
          : phase;

  const nowStored = useCallback(
    (sheets: Draft, left: Draft = sheets) => {
      stored.current = sheets;
      setOnServer(sheets);
      if (left === sheets) forget(first.id);
      else keep(first.id, version.current, left);
    },
    [first.id],
  );

  const accept = useCallback(
    (next: Sortie) => {
      version.current = next.version;
      setSortie(known(next));
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

  const send = useCallback(
    async (sheets: Draft, left: Draft) => {
      const next = await answered(
        server.PUT("/api/sorties/{sortie_id}", {
          params: { path: { sortie_id: first.id } },
          body: { version: version.current, ...changedSheets(stored.current, sheets) },
        }),
      );
      version.current = next.version;
      nowStored(sheets, left);
      accept(next);
    },
    [accept, first.id, nowStored],
  );

  /** Somebody stored before us: what they stored is fetched, to be put together with ours. */
  const readTheirs = useCallback(
    async (conflict: Conflict) => {
      const theirs = await answered(
        server.GET("/api/sorties/{sortie_id}", { params: { path: { sortie_id: first.id } } }),
      );
      setMeanwhile({ conflict, base: stored.current, theirs: known(theirs) });
      setPhase("overtaken");
    },
    [first.id],
  );

  /** The sortie as the server has it now. Where somebody stored meanwhile, that is put together with ours. */
  const refresh = useCallback(
    () =>
      inTurn(async () => {
        const next = await answered(
          server.GET("/api/sorties/{sortie_id}", { params: { path: { sortie_id: first.id } } }),
        ).catch(() => null);
        if (!next) return;
        if (next.version === version.current) return accept(next);
        const conflict = { by: next.changed_by, at: next.changed_at, version: next.version, differences: [] };
        setMeanwhile({ conflict, base: stored.current, theirs: known(next) });
        setPhase("overtaken");
      }),
    [accept, first.id, inTurn],
  );

  /** Store what has changed now. True when everything is stored. */
  const storeNow = useCallback(
    async (now: Draft): Promise<boolean> => {
      if (Object.keys(changedSheets(stored.current, now)).length === 0) {
        setPhase("idle");
        setProblems([]);
        return true;
      }
      setPhase("saving");
      try {
        await send(now, now);
        setProblems([]);
        setPhase("idle");
        return true;
      } catch (error) {
        if (error instanceof Overtaken) {
          await readTheirs(error.conflict).catch(() => setPhase("offline"));
        } else if (error instanceof Failed && error.status === 422) {
          setProblems(error.problems);
          await storeTheRest(now, error.problems, send, stored.current);
          setPhase("refused");
        } else {
          if (error instanceof Failed)
            setProblems(error.status >= 400 && error.status < 500 ? error.problems : []);
          setPhase(
            error instanceof Failed && error.status >= 400 && error.status < 500 ? "refused" : "offline",
          );
        }
        return false;
      }
    },
    [readTheirs, send],
  );

  const store = useCallback((now: Draft) => inTurn(() => storeNow(now)), [inTurn, storeNow]);

  useEffect(() => {
    if (!sortie.may.save || meanwhile) return;
    if (!dirty) return forget(first.id);
    keep(first.id, version.current, draft);
    const timer = setTimeout(() => void store(draft), SAVE_AFTER_MS);
    return () => clearTimeout(timer);
  }, [draft, dirty, meanwhile, first.id, sortie.may.save, store]);

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
    const again = () => void store(draft);
    const timer = setInterval(again, OFFLINE_MS);
    window.addEventListener("online", again);
    return () => {
      clearInterval(timer);
      window.removeEventListener("online", again);
    };
  }, [save, draft, store]);

  /** The draft is built on what is stored now; it is stored with it next. */
  const buildOn = useCallback(
    (next: Sortie) => {
      nowStored(draftOf(next));
      accept(next);
      setMeanwhile(null);
      setProblems([]);
      setPhase("idle");
    },
    [accept, nowStored],
  );

  /** Store, then ask for something of the stored sortie. `then`: what to do where it could not be stored; `take`: what
   * is done with the answer. */
  const afterStoring = useCallback(
    (
      ask: (version: number) => Promise<Sortie>,
      then: string,
      take: (next: Sortie) => void = accept,
    ): Promise<Problem[]> =>
      inTurn(async () => {
        if (!(await storeNow(draft))) return [problemAt("Sortie", "it is not stored yet", then)];
        try {
          take(await ask(version.current));
          return [];
        } catch (error) {
          if (error instanceof Overtaken) await readTheirs(error.conflict).catch(() => setPhase("offline"));
          return error instanceof Failed ? error.problems : [];
        }
      }),
    [accept, draft, inTurn, readTheirs, storeNow],
  );

  return { sortie, save, problems, meanwhile, accept, buildOn, afterStoring, refresh };
}

/** What is right of a draft that was refused: without the places that are wrong, else without the parts around them. What
 * is wrong stays where it was typed. */
async function storeTheRest(
  now: Draft,
  problems: Problem[],
  send: (sheets: Draft, left: Draft) => Promise<void>,
  stored: Draft,
) {
  for (const whole of [false, true]) {
    const right = withoutWrong(stored, now, problems, whole);
    if (!right) continue;
    try {
      return await send(right, now);
    } catch (error) {
      if (!(error instanceof Failed && error.status === 422)) return;
    }
  }
}

/** A sortie from the server, whose numbers know where their working is asked for. */
function known(sortie: Sortie): Sortie {
  const params = { path: { sortie_id: sortie.id } };
  const ask = (at: string) => answered(server.POST("/api/sorties/{sortie_id}/why", { params, body: { at } }));
  withWorking(sortie.answer, "answer", ask);
  withWorking(sortie.accounts, "accounts", ask);
  return sortie;
}
