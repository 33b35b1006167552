import { useQueryClient } from "@tanstack/react-query";
import { askAgain } from "../api/questions";

/** What to do when something was done to a student's record: all that shows it is asked again. */
export function useAsksAgain(onDone?: () => void) {
  const queries = useQueryClient();
  return {
    onSuccess: () => {
      askAgain(queries, "/api/students/{student_id}", "/api/students", "/api/lessons", "/api/courses");
      onDone?.();
    },
  };
}
