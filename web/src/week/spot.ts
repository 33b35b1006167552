/** Where a booking lies in the week, or would lie, and what that would mean. Everything it asks stands in the week. */
import { DateTime } from "luxon";
import type { BookedSortie, Verdict, Week } from "../api/types";
import { day, time } from "../frame/dates";

export type By = "aircraft" | "instructor";
/** day: counted from Monday, 0; from: minutes since that day's midnight. */
export interface Spot {
  day: number;
  from: number;
  minutes: number;
  aircraft: number;
  instructor: number;
}
export interface Finding {
  verdict: Verdict;
  words: string;
}
/** The hours that are drawn, at least. */
const FIRST_HOUR = 7,
  LAST_HOUR = 20;
export const DAYS = 7;
const DAY_MIN = 24 * 60;

export function dayOf(week: Week, n: number): DateTime {
  return DateTime.fromISO(week.monday).plus({ days: n });
}

export function spotOf(week: Week, sortie: BookedSortie): Spot {
  const begins = DateTime.fromISO(sortie.begins);
  const from = begins.startOf("day").diff(DateTime.fromISO(week.monday), "days").days;
  return {
    day: Math.round(from),
    from: minutesOf(sortie.begins),
    minutes: DateTime.fromISO(sortie.ends).diff(begins, "minutes").minutes,
    aircraft: sortie.aircraft_id,
    instructor: sortie.instructor_id,
  };
}

export function begins(week: Week, spot: Spot): DateTime {
  return dayOf(week, spot.day).set({ hour: Math.floor(spot.from / 60), minute: spot.from % 60 });
}

function ends(week: Week, spot: Spot): DateTime {
  return begins(week, spot).plus({ minutes: spot.minutes });
}

export function same(one: Spot, other: Spot): boolean {
  return (Object.keys(one) as (keyof Spot)[]).every((key) => one[key] === other[key]);
}

/** First and last hour of the picture: wider where something is booked outside of the usual day. */
export function hoursOf(week: Week): [first: number, last: number] {
  const spots = week.sorties.map((s) => spotOf(week, s));
  return [
    Math.min(FIRST_HOUR, ...spots.map((s) => Math.floor(s.from / 60))),
    Math.min(24, Math.max(LAST_HOUR, ...spots.map((s) => Math.ceil((s.from + s.minutes) / 60)))),
  ];
}

/** Moved by so many minutes and kept inside of its day, on the school's steps. */
export function shifted(week: Week, spot: Spot, from: number): Spot {
  const step = Math.round(from / week.step_min) * week.step_min;
  return { ...spot, from: Math.max(0, Math.min(DAY_MIN - week.step_min, step)) };
}

export function longer(week: Week, spot: Spot, minutes: number): Spot {
  const step = Math.round(minutes / week.step_min) * week.step_min;
  return { ...spot, minutes: Math.max(week.least_min, Math.min(week.most_min, step)) };
}

/** "Tue 1 Dec 10:30 to 12:00". */
export function inWords(week: Week, spot: Spot): string {
  const at = begins(week, spot).toISO() ?? "";
  return `${day(at)} ${time(at)} to ${time(ends(week, spot).toISO() ?? "")}`;
}

/** What a move takes away that no other move brings back, in words. */
export function lost(sortie: BookedSortie, was: Spot, to: Spot): string[] {
  return [
    ...(sortie.stage === "briefed" && !same({ ...was, minutes: to.minutes }, to)
      ? ["It is briefed again."]
      : []),
    ...(was.day === to.day ? [] : ["That day begins with its own weather."]),
    ...(was.aircraft === to.aircraft ? [] : ["That aircraft has its own load and entry speeds."]),
    ...(was.instructor === to.instructor ? [] : ["That instructor has their own weight and overrides."]),
  ];
}

/** Whom and what a booking there would take; of a new one, only where it would be. */
export interface Who {
  id?: number;
  student_id?: number;
  student_person?: number;
  student?: string;
  place_id?: number;
  last_flew?: string | null;
}

const WORST: Verdict[] = ["stop", "mind", "fine"];

/** What it would mean to fly it there, the worst first; only the best of news where there is nothing else. */
export function findings(week: Week, who: Who, spot: Spot): Finding[] {
  const found = [
    ...twice(week, who, spot),
    ...away(week, who, spot),
    ...light(week, who, spot),
    ...current(week, who, spot),
    ...past(week, spot),
  ];
  const bad = found.filter((f) => f.verdict !== "fine");
  return (bad.length > 0 ? bad : found).sort((a, b) => WORST.indexOf(a.verdict) - WORST.indexOf(b.verdict));
}

function shares(week: Week, spot: Spot, from: string, to: string): boolean {
  return begins(week, spot) < DateTime.fromISO(to) && DateTime.fromISO(from) < ends(week, spot);
}

function twice(week: Week, who: Who, spot: Spot): Finding[] {
  const others = week.sorties.filter(
    (s) =>
      s.id !== who.id && s.cancelled === null && s.stage !== "signed" && shares(week, spot, s.begins, s.ends),
  );
  const found = others.flatMap((s) => {
    const both = [
      s.aircraft_id === spot.aircraft ? s.aircraft : "",
      s.instructor_id === spot.instructor ? s.instructor : "",
      s.student_id === who.student_id ? s.student : "",
    ].filter(Boolean);
    const words = `${both.join(" and ")} booked ${time(s.begins)} to ${time(s.ends)}`;
    return both.length > 0 ? [{ verdict: "stop" as const, words }] : [];
  });
  return found.length > 0 ? found : [{ verdict: "fine", words: "nobody else wants it" }];
}

function away(week: Week, who: Who, spot: Spot): Finding[] {
  return week.taken
    .filter(
      (t) =>
        ((t.aircraft_id !== null && t.aircraft_id === spot.aircraft) ||
          (t.person_id !== null && [spot.instructor, who.student_person].includes(t.person_id))) &&
        shares(week, spot, t.begins, t.ends),
    )
    .map((t) => ({ verdict: "stop", words: `${t.of} not to be had: ${t.words}` }));
}

/** Of the place; of a new one, of the place that has the least of it. */
function light(week: Week, who: Who, spot: Spot): Finding[] {
  const seen = lightOn(week, spot.day, who.place_id);
  if (seen === null) return [];
  const { rises, sets } = seen;
  const [first, last] = [begins(week, spot), ends(week, spot)];
  const words = `light from ${rises.toFormat("HH:mm")} to ${sets.toFormat("HH:mm")}`;
  if (first < rises) return [{ verdict: "stop", words: `before sunrise: ${words}` }];
  const kept = sets.minus({ minutes: week.kept_min });
  if (first >= kept) return [{ verdict: "stop", words: `too late: ${words}, ${week.kept_min} min kept` }];
  if (last > kept)
    return [
      { verdict: "mind", words: `down by ${kept.toFormat("HH:mm")}: ${words}, ${week.kept_min} min kept` },
    ];
  return [{ verdict: "fine", words }];
}

export function lightOn(week: Week, n: number, place?: number): { rises: DateTime; sets: DateTime } | null {
  const on = dayOf(week, n).toISODate();
  const lit = week.light.filter((l) => l.day === on && (place === undefined || l.place_id === place));
  const rises = lit.flatMap((l) => (l.rises === null ? [] : [DateTime.fromISO(l.rises)]));
  const sets = lit.flatMap((l) => (l.sets === null ? [] : [DateTime.fromISO(l.sets)]));
  if (rises.length === 0 || sets.length === 0) return null;
  return { rises: DateTime.max(...rises) as DateTime, sets: DateTime.min(...sets) as DateTime };
}

/** Dates of the people and the aircraft, and how long ago the student flew. */
function current(week: Week, who: Who, spot: Spot): Finding[] {
  const on = dayOf(week, spot.day);
  const theirs = week.until.filter(({ id, date }) =>
    date.kind === "aircraft" ? id === spot.aircraft : id === spot.instructor || id === who.student_person,
  );
  const ended = theirs.flatMap(({ date }): Finding[] => {
    const left = Math.round(DateTime.fromISO(date.until).diff(on, "days").days);
    const name = `${date.what} of ${date.of}`;
    if (left < 0)
      return [{ verdict: date.stops ? "stop" : "mind", words: `${name} ended ${day(date.until)}` }];
    if (left <= date.warn_days && date.warn_days > 0)
      return [{ verdict: "mind", words: `${name} ends ${day(date.until)}` }];
    return [];
  });
  const minded = [...ended, ...recency(week, who, spot)];
  return minded.length > 0 ? minded : [{ verdict: "fine", words: "all dates valid" }];
}

function recency(week: Week, who: Who, spot: Spot): Finding[] {
  if (!who.last_flew || !who.student) return [];
  const flew = DateTime.fromISO(who.last_flew).startOf("day");
  const days = Math.round(dayOf(week, spot.day).diff(flew, "days").days);
  if (days <= week.long_days) return [];
  return [{ verdict: "mind", words: `${who.student} has not flown for ${days} days by then` }];
}

function past(week: Week, spot: Spot): Finding[] {
  return ends(week, spot) < DateTime.fromISO(week.now) ? [{ verdict: "mind", words: "this has passed" }] : [];
}

export function minutesOf(iso: string): number {
  const at = DateTime.fromISO(iso);
  return 60 * at.hour + at.minute;
}

/** When the one of this lane is not to be had on this day, in minutes, as far as it lies in the hours drawn. */
export function awayIn(week: Week, n: number, by: By, lane: number, [first, last]: [number, number]) {
  const begins = dayOf(week, n);
  const ends = begins.plus({ days: 1 });
  return week.taken
    .filter((t) => (by === "aircraft" ? t.aircraft_id : t.person_id) === lane)
    .flatMap((t) => {
      const [from, to] = [DateTime.fromISO(t.begins), DateTime.fromISO(t.ends)];
      if (from >= ends || to <= begins) return [];
      return [
        {
          key: t.id,
          words: t.words,
          from: Math.max(60 * first, from <= begins ? 0 : minutesOf(t.begins)),
          to: Math.min(60 * last, to >= ends ? 24 * 60 : minutesOf(t.ends)),
        },
      ];
    })
    .filter((a) => a.from < a.to);
}

/** One step of the arrow keys: along by the school's step, with Shift in length; up and down by a lane, over the edge
 * of a day into the next. */
export function stepped(week: Week, spot: Spot, key: string, length: boolean, by: By, lanes: number[]): Spot {
  const along = key === "ArrowRight" ? week.step_min : key === "ArrowLeft" ? -week.step_min : 0;
  if (along !== 0 && length) return longer(week, spot, spot.minutes + along);
  if (along !== 0) return shifted(week, spot, spot.from + along);
  const place = spot.day * lanes.length + lanes.indexOf(spot[by]) + (key === "ArrowDown" ? 1 : -1);
  const kept = Math.max(0, Math.min(DAYS * lanes.length - 1, place));
  return { ...spot, day: Math.floor(kept / lanes.length), [by]: lanes[kept % lanes.length] ?? spot[by] };
}
