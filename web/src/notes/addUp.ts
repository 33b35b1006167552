/** The attempts that entries add up to: the core's rule (keelturn/noting/adding_up.py, where it is written down) for when
 * there is no server. tests/said/core/adding_up.json holds both to the same cases. */
import type { Attempt, Entry, PlannedFigure } from "../api/types";

type Otherwise = Attempt["otherwise"][number];

/** In the order flown. */
export function addUp(entries: readonly Entry[]): Attempt[] {
  const by_go = new Map<string, Map<string, Entry>>();
  for (const entry of entries) {
    const there = by_go.get(entry.attempt) ?? new Map<string, Entry>();
    by_go.set(entry.attempt, there);
    if (!there.has(entry.id)) there.set(entry.id, entry);
  }
  const found = [...by_go].flatMap(([id, there]) => {
    const noted = [...there.values()];
    const attempt = attemptOf(id, noted);
    return attempt ? [{ attempt, first: noted.reduce((a, b) => (earlier(a, b) <= 0 ? a : b)) }] : [];
  });
  return found.sort((a, b) => earlier(a.first, b.first)).map(({ attempt }) => attempt);
}

/** The entries at a place that no other there replaces. */
export function standingAt(
  entries: readonly Entry[],
  attempt: string,
  what: Entry["what"],
  about: string,
): Entry[] {
  return heads(entries.filter((e) => e.attempt === attempt && e.what === what && e.about === about));
}

function heads(there: readonly Entry[]): Entry[] {
  const replaced = new Set(there.flatMap((e) => e.replaces.filter((id) => id !== e.id)));
  const standing = there.filter((e) => !replaced.has(e.id));
  return standing.length > 0 ? standing : [...there];
}

function attemptOf(id: string, noted: readonly Entry[]): Attempt | null {
  const places = new Map<string, Entry[]>();
  for (const entry of noted) {
    const place = `${entry.what} ${entry.about}`;
    places.set(place, [...(places.get(place) ?? []), entry]);
  }
  const counts: Entry[] = [];
  const otherwise: Otherwise[] = [];
  for (const [, there] of [...places].sort(([a], [b]) => compare(a, b))) {
    const [counted, others] = thatCounts(there);
    if (counted) counts.push(counted);
    otherwise.push(...others.filter((e) => e.what !== "figure").map(beside));
  }
  const figure = counts.find((e) => e.what === "figure")?.value as PlannedFigure | undefined;
  if (!figure || counts.length < 2) return null;
  return {
    ...BLANK,
    id,
    planned: figure,
    flown_by: figure.flown_by,
    ...Object.fromEntries(
      counts.filter((e) => e.about === "" && e.what !== "figure").map((e) => [e.what, e.value]),
    ),
    faults: counts.filter((e) => e.what === "fault" && e.value === true).map((e) => e.about),
    stops: counts
      .filter((e) => e.what === "stop")
      .map((e) => ({ kind: e.about as Attempt["stops"][number]["kind"], value: Number(e.value) })),
    otherwise,
    offered: counts.filter((e) => e.source === "offered" && e.what !== "figure").map((e) => e.what),
  };
}

/** Nothing noted yet. */
export const BLANK: Omit<Attempt, "id" | "planned" | "flown_by"> = {
  start_ft: null,
  recover_ft: null,
  lowest_ft: null,
  level_ft: null,
  turns: null,
  most_g: null,
  rolling_g: null,
  fastest_ias: null,
  feel: null,
  faults: [],
  outcome: null,
  taken_over_ft: null,
  abandoned: "",
  grade: null,
  grade_reason: "",
  said: "",
  own_grade: null,
  surprise: "",
  note: "",
  skipped: false,
  stops: [],
  otherwise: [],
  offered: [],
};

/** Of the entries at one place: the one that counts, and those beside it that say something else. */
function thatCounts(there: readonly Entry[]): [Entry | null, Entry[]] {
  const standing = heads(there);
  const hands = standing.filter((e) => e.source !== "recorder").sort(earlier);
  const boxes = standing.filter((e) => e.source === "recorder").sort(earlier);
  const hand = hands.at(-1);
  const read = hand?.source !== "offered" || boxes.at(-1)?.value == null;
  const last = hand?.value != null && read ? hand : boxes.at(-1);
  const counted = last?.value != null ? last : null;
  if (!counted) return [null, []];
  const others = new Map<string, Entry>();
  for (const entry of [...boxes, ...hands])
    if (entry.source !== "offered" && entry.value != null && words(entry.value) !== words(counted.value))
      others.set(words(entry.value), entry);
  return [counted, [...others].sort(([a], [b]) => compare(a, b)).map(([, entry]) => entry)];
}

function words(value: Entry["value"]): string {
  return typeof value === "object" ? JSON.stringify(value) : String(value);
}

function beside(entry: Entry): Otherwise {
  return {
    what: entry.what,
    about: entry.about,
    value: entry.value as Otherwise["value"],
    by: entry.by,
    recorder: entry.source === "recorder",
  };
}

/** By the server's clock, then by identity. */
function earlier(a: Entry, b: Entry): number {
  return at(a) - at(b) || compare(a.id, b.id);
}

function at(entry: Entry): number {
  return Date.parse(entry.at) + entry.offset_s * 1000;
}

function compare(a: string, b: string): number {
  return a < b ? -1 : a > b ? 1 : 0;
}
