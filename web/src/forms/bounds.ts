/** What a number of a document may be, as the core says. */
import { useForms } from "../api/questions";
import type { Range } from "./numbers";

/** Of a field of the plan or of an attempt, by its path; nothing until it is known. */
export function useBounds(document: "plan" | "attempt" | "debrief"): (path: string) => Range {
  const forms = useForms();
  return (path) => {
    const fields = forms.data?.[document].flatMap((field) => [
      field,
      ...field.of.map((of) => ({ ...of, path: `${field.path}.${of.path}` })),
    ]);
    const found = fields?.find((field) => field.path === path);
    return { least: found?.least, most: found?.most };
  };
}
