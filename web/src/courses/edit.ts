/** Edits of a course as it is drawn up. Pure: no screen. */
import type { CourseDocument, CourseLesson, CourseTask } from "../api/types";

export const NEW_COURSE: CourseDocument = {
  format: "keelturn.course/1",
  key: "",
  name: "",
  purpose: "",
  source: "",
  flight_h: 0,
  ground_h: 0,
  tasks: [],
  ground: [],
  lessons: [],
};

export function newTask(figure: string, taken: readonly string[]): CourseTask {
  const key = nameInFiles(figure, taken);
  return { key, name: "", figure, side: "both", settings: {}, needed: "sound", words: "", after: [] };
}

export function newLesson(key: string): CourseLesson {
  return { key, name: "New lesson", purpose: "", standing: "first flights", tasks: [], ground: [] };
}

/** The list with one entry in the place of another. */
export function put<T>(list: readonly T[], at: number, entry: T): T[] {
  return list.map((held, i) => (i === at ? entry : held));
}

export function without<T>(list: readonly T[], at: number): T[] {
  return list.filter((_, i) => i !== at);
}

/** The list with one entry a place earlier or later. */
export function moved<T>(list: readonly T[], at: number, by: 1 | -1): T[] {
  const to = at + by;
  const one = list[at],
    other = list[to];
  if (one === undefined || other === undefined) return [...list];
  return put(put(list, at, other), to, one);
}

/** A name in files that none of these has: the words in small letters, with a number where it is taken. */
export function nameInFiles(words: string, taken: readonly string[]): string {
  const plain = words
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "_")
    .replace(/^_+|_+$/g, "")
    .slice(0, 34);
  const base = plain || "new";
  let name = base;
  for (let n = 2; taken.includes(name); n++) name = `${base}_${n}`;
  return name;
}

/** The task taken out, with everything that names it. */
export function withoutTask(course: CourseDocument, at: number): CourseDocument {
  const key = course.tasks[at]?.key;
  return {
    ...course,
    tasks: without(course.tasks, at).map((t) => ({ ...t, after: t.after.filter((k) => k !== key) })),
    lessons: course.lessons.map((l) => ({ ...l, tasks: l.tasks.filter((t) => t.task !== key) })),
  };
}

/** The item taken out, with every lesson that asks for it. */
export function withoutGround(course: CourseDocument, at: number): CourseDocument {
  const key = course.ground[at]?.key;
  return {
    ...course,
    ground: without(course.ground, at),
    lessons: course.lessons.map((l) => ({ ...l, ground: l.ground.filter((k) => k !== key) })),
  };
}
