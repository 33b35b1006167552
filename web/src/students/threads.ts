/** Where the threads of the way lie. Pure: no screen. */
import type { Task } from "../api/types";

export interface Flight {
  id: number;
  day: string;
}

/** The flights in which any of these tasks was flown, oldest first. */
export function flightsOf(tasks: readonly Task[]): Flight[] {
  const found = new Map<number, string>();
  for (const task of tasks) for (const mark of task.marks) found.set(mark.flight, mark.day);
  return [...found]
    .map(([id, day]) => ({ id, day }))
    .sort((a, b) => a.day.localeCompare(b.day) || a.id - b.id);
}

const LEAST_DAYS = 4,
  MOST_DAYS = 30;

/** Places of the flights and of today, from 0 to 1: by the days between them, a long gap no longer than a month, two of a
 * day apart enough to be told. */
export function placesOf(
  flights: readonly Flight[],
  today: string,
): { of: Map<number, number>; end: number } {
  let at = 0;
  const along = flights.map((flight, i) => {
    const before = flights[i - 1];
    at += before ? clamped(daysBetween(before.day, flight.day)) : 0;
    return [flight.id, at] as const;
  });
  const last = flights.at(-1);
  const whole = at + (last ? clamped(daysBetween(last.day, today)) : 1);
  return { of: new Map(along.map(([id, where]) => [id, where / whole])), end: 1 };
}

function clamped(days: number): number {
  return Math.min(MOST_DAYS, Math.max(LEAST_DAYS, days));
}

export function daysBetween(from: string, to: string): number {
  return (Date.parse(to.slice(0, 10)) - Date.parse(from.slice(0, 10))) / 86_400_000;
}

const FT_A_PIXEL = 25,
  THINNEST = 1.2,
  THICKEST = 10;

/** Half the thickness of a thread, in pixels: the height beyond the brief; as briefed or less is the thinnest. */
export function halfOf(beyond_ft: number | null): number {
  return Math.min(THICKEST, Math.max(THINNEST, (beyond_ft ?? 0) / FT_A_PIXEL));
}

const LOWEST_ROW = 24,
  HIGHEST_ROW = 34;
export const HEADING = 30;

/** How high a row is, so that all of them fill the room; lower than the lowest they scroll. */
export function rowHeight(tasks: readonly Task[], room: number): number {
  const families = new Set(tasks.map((t) => t.family)).size;
  const each = (room - families * HEADING) / Math.max(1, tasks.length);
  return Math.min(HIGHEST_ROW, Math.max(LOWEST_ROW, Math.floor(each)));
}

export interface Row {
  task: Task;
  y: number;
}

/** Tasks under their families, in the order in which the course has them first. */
export function rowsOf(
  tasks: readonly Task[],
  row: number,
): {
  rows: Row[];
  headings: { words: string; y: number }[];
  height: number;
} {
  const families = [...new Set(tasks.map((t) => t.family))];
  const rows: Row[] = [],
    headings: { words: string; y: number }[] = [];
  let y = 0;
  for (const family of families) {
    headings.push({ words: family, y: y + HEADING - 10 });
    y += HEADING;
    for (const task of tasks.filter((t) => t.family === family)) {
      rows.push({ task, y: y + row / 2 });
      y += row;
    }
  }
  return { rows, headings, height: y };
}

/** Labels of flights that have room: not nearer than so many pixels to the one before. */
export function labelled(flights: readonly Flight[], x: (id: number) => number, apart: number): Flight[] {
  const found: Flight[] = [];
  // The latest is always said.
  for (const flight of [...flights].reverse()) {
    const next = found[0];
    if (!next || x(next.id) - x(flight.id) >= apart) found.unshift(flight);
  }
  return found;
}
