/** What is noted, in words. */
import type { Entry } from "../api/types";

export const LABELS: Record<string, string> = {
  start_ft: "Start",
  recover_ft: "Recover",
  lowest_ft: "Lowest",
  level_ft: "Level",
  taken_over_ft: "Taken over",
  turns: "Turns",
  most_g: "Most g",
  rolling_g: "Rolling g",
  fastest_ias: "Fastest",
  feel: "Feel",
  flown_by: "Who flew",
  outcome: "What became of it",
  grade: "Grade",
  grade_reason: "Why this grade",
  said: "Said",
  own_grade: "Student's own grade",
  surprise: "What surprised most",
  note: "Note",
  skipped: "Left out",
  figure: "Figure",
  abandoned: "Broken off",
};

export function shown(value: NonNullable<Entry["value"]>): string {
  if (typeof value === "boolean") return value ? "made" : "not made";
  if (typeof value === "object") return "begun";
  return typeof value === "number" ? value.toLocaleString("en") : value;
}

/** One entry by itself; titles: of the figures, by their ids in the plan. */
export function said(
  { attempt, what, about, value }: Entry,
  titles: Readonly<Record<string, string>>,
): string {
  const figure = titles[attempt.replace(/\.\d+$/, "")] ?? attempt;
  const label = LABELS[what] ?? (about.replaceAll("_", " ") || what);
  if (value == null) return `${figure}: ${label} taken back`;
  if (typeof value === "boolean") return `${figure}: ${label}${value ? "" : ", not"}`;
  return `${figure}: ${label} ${shown(value)}`;
}
