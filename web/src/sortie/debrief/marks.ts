/** The figures of a recording as somebody marks them: what was found, with one of them another. */
import type { FigureFound, Mark } from "../../api/types";

export function marksOf(figures: readonly FigureFound[]): Mark[] {
  return figures.map((f) => ({
    begins_s: f.measured.begins_s,
    ends_s: f.measured.ends_s,
    key: f.key,
    side: f.side,
    planned: f.planned,
  }));
}

/** Seconds are kept to hundredths: as finely as anybody shifts them. */
const hundredths = (s: number) => Math.round(s * 100) / 100;

const with_ = (marks: readonly Mark[], at: number, change: Partial<Mark>) =>
  marks.map((mark, n) => (n === at ? { ...mark, ...change } : mark));

/** Its edges elsewhere; a neighbour gives way. */
export function shifted(marks: readonly Mark[], at: number, begins_s: number, ends_s: number): Mark[] {
  const begins = hundredths(begins_s),
    ends = hundredths(ends_s);
  return with_(marks, at, { begins_s: begins, ends_s: ends }).map((mark, n) => {
    if (n === at - 1) return { ...mark, ends_s: Math.min(mark.ends_s, begins) };
    if (n === at + 1) return { ...mark, begins_s: Math.max(mark.begins_s, ends) };
    return mark;
  });
}

export function renamed(
  marks: readonly Mark[],
  at: number,
  name: Pick<Mark, "key" | "side" | "planned">,
): Mark[] {
  return with_(marks, at, name);
}

/** Two of it, cut at this second of the recording. */
export function split(marks: readonly Mark[], at: number, cut_s: number): Mark[] {
  const cut = hundredths(cut_s);
  return marks.flatMap((mark, n) =>
    n === at
      ? [
          { ...mark, ends_s: cut },
          { ...mark, begins_s: cut },
        ]
      : [mark],
  );
}

/** One of it and the next. */
export function merged(marks: readonly Mark[], at: number): Mark[] {
  const next = marks[at + 1];
  return next ? with_(marks, at, { ends_s: next.ends_s }).filter((_, n) => n !== at + 1) : [...marks];
}

export function without(marks: readonly Mark[], at: number): Mark[] {
  return marks.filter((_, n) => n !== at);
}
