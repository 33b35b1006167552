/** One thing noted, as it is kept and sent. */
import { identity } from "../api/identity";
import type { Attempt, Entry, PlannedFigure } from "../api/types";
import { clockOffset, deviceName } from "../device/clock";
import { standingAt } from "./addUp";

/** What can be said of an attempt at once. null takes back what stood there. */
export type Edits = Partial<
  Pick<
    Attempt,
    | "start_ft"
    | "recover_ft"
    | "lowest_ft"
    | "level_ft"
    | "turns"
    | "most_g"
    | "rolling_g"
    | "fastest_ias"
    | "feel"
    | "outcome"
    | "taken_over_ft"
    | "grade"
    | "own_grade"
  >
> & {
  flown_by?: Attempt["flown_by"] | null;
  abandoned?: string | null;
  note?: string | null;
  grade_reason?: string | null;
  said?: string | null;
  surprise?: string | null;
  skipped?: boolean | null;
  /** By the fault's key. */ fault?: Record<string, boolean>;
  /** By the kind of stop. */ stop?: Record<string, number>;
};

/** Which go at which figure: its name, and the figure as it is on this device. */
export interface Go {
  id: string;
  planned: PlannedFigure;
}

/** The name of the n-th go at a figure, the same on every device. */
export function nameOfGo(planned: PlannedFigure, n: number): string {
  return n <= 1 ? planned.id : `${planned.id}.${n}`;
}

/** The last go at a figure among the attempts, or its first. */
export function lastGo(attempts: readonly Attempt[], planned: PlannedFigure): Go {
  const there = attempts.filter((a) => a.planned.id === planned.id).at(-1);
  return there ? { id: there.id, planned: there.planned } : { id: nameOfGo(planned, 1), planned };
}

export function nextGo(attempts: readonly Attempt[], planned: PlannedFigure): Go {
  const taken = attempts.map((a) => a.id);
  let n = attempts.filter((a) => a.planned.id === planned.id).length + 1;
  while (taken.includes(nameOfGo(planned, n))) n += 1;
  return { id: nameOfGo(planned, n), planned };
}

type Said = Pick<Entry, "what" | "about" | "value">;

/** The entries that say this of a go: each replaces what stands at its place, among `there`. The first of a go says
 * which figure it is. source: a hand, or the recorder, which replace only their own. offered: what of it was accepted
 * as the key offered it. */
export function entriesFor(
  there: readonly Entry[],
  go: Go,
  edits: Edits,
  source: "hand" | "recorder" = "hand",
  offered: readonly string[] = [],
): Entry[] {
  const { fault = {}, stop = {}, ...plain } = edits;
  const said: Said[] = [
    ...Object.entries(plain).map(([what, value]) => ({ what: what as Said["what"], about: "", value })),
    ...Object.entries(fault).map(([about, value]) => ({ what: "fault" as const, about, value })),
    ...Object.entries(stop).map(([about, value]) => ({ what: "stop" as const, about, value })),
  ];
  const figure = standingAt(there, go.id, "figure", "").find((e) => e.value != null)?.value;
  if (JSON.stringify(figure) !== JSON.stringify(go.planned))
    said.unshift({ what: "figure", about: "", value: go.planned });
  const at = new Date().toISOString();
  return said.map(({ what, about, value }) => ({
    id: identity(),
    attempt: go.id,
    what,
    about,
    value: value ?? null,
    replaces: standingAt(there, go.id, what, about)
      .filter((e) => (e.source === "recorder") === (source === "recorder"))
      .map((e) => e.id)
      .slice(0, 40),
    device: deviceName(),
    at,
    offset_s: clockOffset(),
    source: offered.includes(what) ? "offered" : source,
    by: "",
  }));
}
