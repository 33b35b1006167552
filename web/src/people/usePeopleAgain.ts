import { useQueryClient } from "@tanstack/react-query";
import { askAgain } from "../api/questions";

/** What to do when something was done about somebody: all that shows people is asked again. */
export function usePeopleAgain<T>(onDone?: (made: T) => void) {
  const queries = useQueryClient();
  return {
    onSuccess: (made: T) => {
      askAgain(
        queries,
        "/api/people",
        "/api/students",
        "/api/instructors",
        "/api/today",
        "/api/records",
        "/api/audit",
      );
      onDone?.(made);
    },
  };
}
