/** A booking on its way to another place in the week: by the pointer or the arrow keys, stored, and put back. */
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { answered, Failed, inOneLine, Overtaken, server } from "../api/client";
import { askAgain } from "../api/questions";
import type { BookedSortie, Week } from "../api/types";
import { begins, inWords, lost, same, spotOf, type Spot } from "./spot";

/** What was done last, to be put back. */
export interface Done {
  words: string;
  sortie: number;
  before: Spot;
  week: Week;
}

export function useMoving(week: Week) {
  const queries = useQueryClient();
  const [chosen, setChosen] = useState<number | null>(null);
  const [ghost, setGhost] = useState<Spot | null>(null);
  const [done, setDone] = useState<Done | null>(null);
  const [trouble, setTrouble] = useState("");
  const [busy, setBusy] = useState(false);
  const sortie = week.sorties.find((s) => s.id === chosen);

  const choose = (id: number | null) => {
    setChosen(id);
    setGhost(null);
    setTrouble("");
  };
  const drop = () => setGhost(null);
  /** Where it is let go of: stored at once, or asked about where putting it back would not bring all back. */
  const land = (to: Spot) => {
    if (sortie && lost(sortie, spotOf(week, sortie), to).length === 0) void store(to);
  };
  const put = async (of: BookedSortie, version: number, was: Spot, to: Spot): Promise<boolean> => {
    setBusy(true);
    setTrouble("");
    try {
      await answered(
        server.POST("/api/sorties/{sortie_id}/booking", {
          params: { path: { sortie_id: of.id } },
          body: {
            version,
            planned_for: begins(week, to).toUTC().toISO(),
            instructor_id: to.instructor,
            aircraft_id: to.aircraft,
            minutes: to.minutes === was.minutes ? null : to.minutes,
          },
        }),
      );
      return true;
    } catch (error) {
      setTrouble(inLine(error));
      return false;
    } finally {
      await queries.invalidateQueries({ queryKey: ["get", "/api/week"] });
      askAgain(queries, "/api/today", "/api/students");
      setBusy(false);
      setGhost(null);
    }
  };
  /** Stored; what it was is kept, to be put back. */
  const store = async (to: Spot) => {
    if (!sortie) return;
    const was = spotOf(week, sortie);
    if (same(was, to)) return drop();
    const stored = await put(sortie, sortie.version, was, to);
    setDone(
      stored
        ? { words: `${sortie.student} now ${inWords(week, to)}`, sortie: sortie.id, before: was, week }
        : null,
    );
  };
  const undo = async () => {
    const of = week.sorties.find((s) => s.id === done?.sortie);
    if (!done || !of) return;
    if (await put(of, of.version, spotOf(week, of), done.before)) setDone(null);
  };
  /** Only where the same week is shown: elsewhere it could not be seen what is put back. */
  const undoable = done !== null && done.week.monday === week.monday ? done : null;
  return { sortie, ghost, setGhost, choose, drop, land, store, undo, done: undoable, trouble, busy };
}
export type Moving = ReturnType<typeof useMoving>;

function inLine(error: unknown): string {
  if (error instanceof Overtaken)
    return `${error.message} It stays as they stored it, and is shown so now: look again.`;
  return error instanceof Failed ? error.problems.map(inOneLine).join(" ") : String(error);
}
