/** The sheets of a sortie while they are edited, with undo. Pure: no network, no storage. */
import type { Attempt, Brief, Debrief, PlanDocument, Sortie } from "../api/types";

export interface Draft {
  plan: PlanDocument;
  brief: Brief;
  attempts: Attempt[];
  debrief: Debrief;
  aircraft_id: number;
  place_id: number;
}

export interface History {
  past: Draft[];
  now: Draft;
  future: Draft[];
  gesture: string;
}

const DEEPEST = 200;

export function draftOf(sortie: Sortie): Draft {
  const { plan, brief, attempts, debrief, aircraft_id, place_id } = sortie;
  return { plan, brief, attempts, debrief, aircraft_id, place_id };
}

export function begin(draft: Draft): History {
  return { past: [], now: draft, future: [], gesture: "" };
}

/** One change. Changes of the same (non-empty) gesture, such as one drag, are one step to undo. */
export function changed(history: History, now: Draft, gesture = ""): History {
  if (gesture && gesture === history.gesture) return { ...history, now, future: [] };
  return { past: [...history.past, history.now].slice(-DEEPEST), now, future: [], gesture };
}

export function undone(history: History): History {
  const before = history.past[history.past.length - 1];
  return before
    ? { past: history.past.slice(0, -1), now: before, future: [history.now, ...history.future], gesture: "" }
    : history;
}

export function redone(history: History): History {
  const after = history.future[0];
  return after
    ? { past: [...history.past, history.now], now: after, future: history.future.slice(1), gesture: "" }
    : history;
}

/** The sheets that differ from what was last stored, as a save sends them. */
export function changedSheets(stored: Draft, now: Draft): Partial<Draft> {
  const found: Partial<Draft> = {};
  for (const name of Object.keys(now) as (keyof Draft)[]) {
    if (JSON.stringify(stored[name]) !== JSON.stringify(now[name]))
      Object.assign(found, { [name]: now[name] });
  }
  return found;
}
