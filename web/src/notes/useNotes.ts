/** What is noted of one sortie, and the attempts that it adds up to: here and at the server together. */
import { useCallback, useEffect, useMemo, useRef, useState, useSyncExternalStore } from "react";
import type { Attempt, Entry, Sortie } from "../api/types";
import type { KeptEntry } from "../device/database";
import { addUp, standingAt } from "./addUp";
import { entriesFor, type Edits, type Go } from "./entry";
import { Outbox, type Link } from "./outbox";
import { storeOf, type NoteStore } from "./store";

export interface Notes {
  /** What this device has is there. */ loaded: boolean;
  attempts: Attempt[];
  entries: readonly Entry[];
  /** How many entries the record has, those that only this device has included. */ count: number;
  waiting: number;
  refused: readonly KeptEntry[];
  link: Link;
  /** The device did not take what was noted: it is in this page only. */ full: boolean;
  /** offered: what of it was accepted as the key offered it. */ note: (
    go: Go,
    edits: Undoable,
    offered?: readonly string[],
  ) => void;
  /** That somebody has seen a stop: it stays seen. */ noteSeen: (
    go: Go,
    stop: Record<string, number>,
  ) => void;
  /** What the recorder found: beside what a hand noted, which counts. Not undone. */
  noteRecorded: (go: Go, edits: Edits) => void;
  /** Sends what waits. True when nothing waits any more. */ flush: () => Promise<boolean>;
  /** What was refused is sent once more. */ sendRefused: () => void;
  undo: () => void;
  redo: () => void;
  /** When the step was made that undo and redo are about, in ms; 0 for none. */ undoAt: number;
  redoAt: number;
}

/** A stop that was seen is not taken back. */
type Undoable = Omit<Edits, "stop">;

interface Step {
  go: Go;
  before: Undoable;
  after: Undoable;
  /** What of each was accepted as offered. */ offeredBefore: readonly string[];
  offered: readonly string[];
  at: number;
  stage: string;
}

const outboxes = new WeakMap<NoteStore, Outbox>();
export function outboxOf(store: NoteStore): Outbox {
  const there = outboxes.get(store);
  if (there) return there;
  const made = new Outbox(store);
  outboxes.set(store, made);
  return made;
}

/** stage: where the person works; undo takes back only what was noted there. */
export function useNotes(person: number, sortie: Sortie, stage: string): Notes {
  const store = useMemo(() => storeOf(person), [person]);
  const outbox = outboxOf(store);
  const mine = useSyncExternalStore(store.subscribe, () => store.of(sortie.id));
  const link = useSyncExternalStore(outbox.subscribe, () => outbox.link);
  const [past, setPast] = useState<Step[]>([]);
  const [future, setFuture] = useState<Step[]>([]);
  const [loaded, setLoaded] = useState(false);

  useEffect(() => {
    void store.load(sortie.id).then(() => {
      setLoaded(true);
      return outbox.send();
    });
    const look = () => {
      if (document.visibilityState === "visible") void store.read(sortie.id).then(outbox.send);
    };
    document.addEventListener("visibilitychange", look);
    return () => document.removeEventListener("visibilitychange", look);
  }, [store, outbox, sortie.id]);

  const entries = useMemo(() => {
    const there = new Set(sortie.entries.map((e) => e.id));
    // What the server refused is no part of the record: it is seen where it was noted, and not where it would be signed.
    const ours = mine.filter((k) => !there.has(k.id) && (k.state !== "refused" || stage === "fly"));
    return [...sortie.entries, ...ours.map((k) => k.entry)];
  }, [sortie.entries, mine, stage]);
  const attempts = useMemo(
    () => (entries.length === sortie.entries.length ? sortie.attempts : addUp(entries)),
    [entries, sortie],
  );
  const latest = useRef(entries);
  useEffect(() => {
    latest.current = entries;
  }, [entries]);

  const write = useCallback(
    (go: Go, edits: Edits, source: "hand" | "recorder" = "hand", offered: readonly string[] = []) => {
      const made = entriesFor(latest.current, go, edits, source, offered);
      latest.current = [...latest.current, ...made];
      void store.add(sortie.id, made).then(outbox.send);
    },
    [store, outbox, sortie.id],
  );
  const note = useCallback(
    (go: Go, edits: Undoable, offered: readonly string[] = []) => {
      const [before, offeredBefore] = standing(latest.current, go, edits);
      write(go, edits, "hand", offered);
      const step = { go, before, offeredBefore, after: edits, offered, at: Date.now(), stage };
      setPast((steps) => [...steps, step].slice(-200));
      setFuture([]);
    },
    [write, stage],
  );
  const noteSeen = useCallback((go: Go, stop: Record<string, number>) => write(go, { stop }), [write]);
  const noteRecorded = useCallback((go: Go, edits: Edits) => write(go, edits, "recorder"), [write]);
  const last = past.at(-1),
    next = future.at(-1);
  const undoable = last?.stage === stage ? last : null,
    redoable = next?.stage === stage ? next : null;
  const undo = useCallback(() => {
    if (!undoable) return;
    write(undoable.go, undoable.before, "hand", undoable.offeredBefore);
    setPast((steps) => steps.slice(0, -1));
    setFuture((steps) => [...steps, undoable]);
  }, [undoable, write]);
  const redo = useCallback(() => {
    if (!redoable) return;
    write(redoable.go, redoable.after, "hand", redoable.offered);
    setFuture((steps) => steps.slice(0, -1));
    setPast((steps) => [...steps, redoable]);
  }, [redoable, write]);
  const flush = useCallback(async () => {
    await outbox.send();
    return !store.of(sortie.id).some((k) => k.state === "waiting");
  }, [outbox, store, sortie.id]);

  const sendRefused = useCallback(() => {
    const again = new Set(
      store
        .of(sortie.id)
        .filter((k) => k.state === "refused")
        .map((k) => k.id),
    );
    void store.mark(sortie.id, again, "waiting").then(outbox.send);
  }, [outbox, store, sortie.id]);

  const waiting = mine.filter((k) => k.state === "waiting").length;
  const refused = useMemo(() => mine.filter((k) => k.state === "refused"), [mine]);
  const full = mine.some((k) => store.unstored.has(k.id));
  const undoAt = undoable?.at ?? 0,
    redoAt = redoable?.at ?? 0;
  // As one value: who reads it is drawn anew only when some of it has changed.
  const all: Notes = {
    loaded,
    attempts,
    entries,
    count: entries.length,
    waiting,
    refused,
    link,
    full,
    note,
    noteSeen,
    noteRecorded,
    flush,
    sendRefused,
    undo,
    redo,
    undoAt,
    redoAt,
  };
  return useUnchanged(all);
}

/** The same object for as long as none of its fields changes. */
function useUnchanged<T extends object>(now: T): T {
  const [kept, keep] = useState(now);
  const same = (Object.keys(now) as (keyof T)[]).every((name) => Object.is(now[name], kept[name]));
  if (!same) keep(now);
  return same ? kept : now;
}

/** What a hand had noted at the places of these edits, so that they can be taken back; and what of it was as offered. */
function standing(entries: readonly Entry[], go: Go, edits: Undoable): [Undoable, string[]] {
  const there = (what: string, about: string) =>
    standingAt(entries, go.id, what as Entry["what"], about)
      .filter((e) => e.source !== "recorder")
      .at(-1);
  const value = (what: string, about: string) => there(what, about)?.value ?? null;
  const { fault, ...plain } = edits;
  const before: Record<string, unknown> = Object.fromEntries(
    Object.keys(plain).map((what) => [what, value(what, "")]),
  );
  if (fault)
    before.fault = Object.fromEntries(Object.keys(fault).map((key) => [key, value("fault", key) === true]));
  return [before, Object.keys(plain).filter((what) => there(what, "")?.source === "offered")];
}
