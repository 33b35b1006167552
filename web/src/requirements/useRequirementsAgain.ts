import { useQueryClient } from "@tanstack/react-query";
import { askAgain } from "../api/questions";

/** After something was put on record: what is shown of somebody's requirements is asked again. */
export function useRequirementsAgain() {
  const queries = useQueryClient();
  return () => {
    askAgain(queries, "/api/requirements/{person_id}", "/api/dates");
  };
}
