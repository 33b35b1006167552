import type { PersonLine } from "../api/types";

const WORDS = { chief: "chief instructor", instructor: "instructor", student: "" } as const;

/** What somebody does here, in words. */
export function rolesOf({ role, student_id }: Pick<PersonLine, "role" | "student_id">): string {
  return [WORDS[role], student_id === null ? "" : "student"].filter(Boolean).join(", ");
}
