/** What is sent of a form, and where its problems stand. Pure: no screen. */
import { get, set } from "react-hook-form";
import type { FieldSpec, Problem } from "../api/types";

/** A number with where it came from, as it stands in a form. */
export interface Stated {
  value: number | null;
  source: string;
  ref: string;
}

type Tree = Record<string, unknown>;

/** A field in which nothing stands yet: what the document has where nothing is entered. */
export function blankOf({ enter, choices, least_rows, usual }: FieldSpec): unknown {
  if (usual != null) return usual;
  if (enter === "stated") return { value: null, source: choices[0] ?? "", ref: "" };
  if (enter === "list") return Array.from({ length: least_rows }, () => ({}));
  if (enter === "lines" || enter === "choices") return [];
  if (enter === "by figure") return {};
  if (enter === "number" || enter === "section") return null;
  if (enter === "switch") return false;
  return enter === "choice" ? choices[0] : "";
}

/** A part of the document in which nothing stands yet; without `within` the document itself. */
export function blankPart(fields: FieldSpec[], within = ""): Tree {
  const made: Tree = {};
  for (const field of fields.filter((f) => f.within === within)) set(made, field.path, blankOf(field));
  const part: unknown = within ? get(made, within) : made;
  return part as Tree;
}

/** A copy of the document with what was left blank sent as nothing, or as what the document has where nothing is
 * entered; parts that are switched off are left out whole. */
export function filled<D>(document: D, fields: FieldSpec[]): D {
  const made = structuredClone(document) as Tree;
  for (const field of fields) {
    if (field.within && get(made, field.within) == null) continue;
    const held: unknown = get(made, field.path);
    if (blank(held, field)) set(made, field.path, field.enter === "list" ? [] : null);
    else if (held == null && !field.optional && blankOf(field) !== null && field.enter !== "stated")
      set(made, field.path, blankOf(field));
  }
  return made as D;
}

function blank(held: unknown, field: FieldSpec): boolean {
  if (held === undefined || held === "") return field.optional || field.enter === "list";
  return field.enter === "stated" && field.optional && (held as Stated | null)?.value == null;
}

/** The number that stands there, with its source; null where none does. */
export function statedAt(document: unknown, path: string): Stated | null {
  const held: unknown = get(document, path);
  return (held as Stated | undefined) ?? null;
}

/** Problems of one field, wherever inside it they stand. `in_` is what the server calls the document. */
export function problemsAt(problems: Problem[], in_: string, path: string): Problem[] {
  return problems.filter((p) => {
    const where = placeOf(p, in_);
    return where === path || where.startsWith(`${path}.`);
  });
}

/** Problems that no field shows. */
export function unplaced(problems: Problem[], in_: string, fields: FieldSpec[]): Problem[] {
  return problems.filter((p) => !fields.some((f) => problemsAt([p], in_, f.path).length > 0));
}

function placeOf(problem: Problem, in_: string): string {
  return problem.where.replace(/\[(\d+)\]/g, ".$1").replace(`${in_}.`, "");
}

/** The unit as it is shown: the aircraft's own where the field has none of its own. */
export function unitOf(field: FieldSpec, speedUnit: string): string {
  return field.unit === "speed" ? speedUnit : field.unit;
}

/** Fields by the heading they stand under, in their order. */
export function byHeading(fields: FieldSpec[]): [heading: string, fields: FieldSpec[]][] {
  const found = new Map<string, FieldSpec[]>();
  for (const field of fields) found.set(field.under, [...(found.get(field.under) ?? []), field]);
  return [...found];
}
