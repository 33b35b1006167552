/** The sheets of a sortie while they are edited, with undo. Pure: no network, no storage. */
import type { Brief, Debrief, PlanDocument, Sortie } from "../api/types";

export interface Draft {
  plan: PlanDocument;
  brief: Brief;
  debrief: Debrief;
  aircraft_id: number;
  place_id: number;
}

/** What undo takes back at once: the draft as it was before, and where the change was made. */
interface Step {
  draft: Draft;
  stage: string;
  /** When it was made, in ms. */ at: number;
  /** Whose version was taken, when the change was not made here. */ from: string;
}

export interface History {
  past: Step[];
  now: Draft;
  future: Step[];
  gesture: string;
  /** When the last change was made, in ms. */ at: number;
}

const DEEPEST = 200;
/** Two presses of a key further apart than this are two changes. */
const ONE_GESTURE_MS = 1500;

export function draftOf(sortie: Sortie): Draft {
  const { plan, brief, debrief, aircraft_id, place_id } = sortie;
  return { plan, brief, debrief, aircraft_id, place_id };
}

export function begin(draft: Draft): History {
  return { past: [], now: draft, future: [], gesture: "", at: 0 };
}

export interface Change {
  /** Changes of the same gesture are one step to undo: a drag ("held ..."), however long it lasts, and presses of the
   * same key close together. */ gesture?: string;
  stage?: string;
  from?: string;
  at?: number;
}

export function changed(history: History, now: Draft, change: Change = {}): History {
  const { gesture = "", stage = "", from = "", at = Date.now() } = change;
  const goes_on =
    gesture !== "" &&
    gesture === history.gesture &&
    (gesture.startsWith("held ") || at - history.at < ONE_GESTURE_MS);
  if (goes_on) return { ...history, now, future: [], at };
  const past = [...history.past, { draft: history.now, stage, from, at }].slice(-DEEPEST);
  return { past, now, future: [], gesture, at };
}

/** What undo would take back at this stage; nothing where the last change was made at another one. */
export function undoable(history: History, stage: string): Step | null {
  const last = history.past[history.past.length - 1];
  return last?.stage === stage ? last : null;
}

export function redoable(history: History, stage: string): Step | null {
  const next = history.future[0];
  return next?.stage === stage ? next : null;
}

/** The figure that two drafts differ in, so that it is looked at when one takes the other's place; null when there is none. */
export function figureThatDiffers(one: Draft, other: Draft): string | null {
  const text = (draft: Draft, id: string) =>
    JSON.stringify(draft.plan.figures.find((f) => f.id === id) ?? null);
  const ids = other.plan.figures.map((f) => f.id);
  return ids.find((id) => text(one, id) !== text(other, id)) ?? null;
}

export function undone(history: History, stage: string): History {
  const last = undoable(history, stage);
  if (!last) return history;
  const future = [{ ...last, draft: history.now }, ...history.future];
  return { past: history.past.slice(0, -1), now: last.draft, future, gesture: "", at: 0 };
}

export function redone(history: History, stage: string): History {
  const next = redoable(history, stage);
  if (!next) return history;
  const past = [...history.past, { ...next, draft: history.now }];
  return { past, now: next.draft, future: history.future.slice(1), gesture: "", at: 0 };
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

/** What of the sheets the server may take though it refused them: everything but what its problems are about, which
 * stays as it is stored. whole: the parts around those places, where leaving out the places was not enough. Null when
 * nothing is left to store. */
export function withoutWrong(
  stored: Draft,
  now: Draft,
  problems: readonly { where: string }[],
  whole = false,
): Draft | null {
  const next = structuredClone(now);
  const places = problems.map(({ where }) => {
    const path = where.replace(/\[(\d+)\]/g, ".$1").split(".");
    const entry = path[1] === "figures" ? 3 : 2;
    return (whole ? path.slice(0, entry) : path).join(".");
  });
  // The last first: what is taken out of a list moves what stands behind it.
  for (const place of [...new Set(places)].reverse()) {
    const path = place.split(".");
    if (!(path[0] && path[0] in next) || !putBack(next, stored, path)) return null;
  }
  return Object.keys(changedSheets(stored, next)).length > 0 ? next : null;
}

type Tree = Record<string, unknown>;

/** One place as it is stored; an entry of a list by its id, taken out where it is not stored. */
function putBack(next: Draft, stored: Draft, path: string[]): boolean {
  let here = next as unknown as Tree,
    there = stored as unknown as Tree | undefined;
  for (const [i, name] of path.entries()) {
    const last = i === path.length - 1;
    if (Array.isArray(here)) {
      const list = here as unknown as Tree[];
      const entry = list[Number(name)];
      if (!entry) return false;
      const its = (there as unknown as Tree[] | undefined)?.find((other) => other.id === entry.id);
      if (last && its) list[Number(name)] = its;
      else if (last) list.splice(Number(name), 1);
      if (last) return true;
      [here, there] = [entry, its];
    } else if (last) {
      if (there && name in there) here[name] = structuredClone(there[name]);
      else delete here[name];
    } else {
      const inner = here[name];
      if (typeof inner !== "object" || inner === null) return false;
      [here, there] = [inner as Tree, there?.[name] as Tree | undefined];
    }
  }
  return path.length > 0;
}
