import { useState } from "react";
import { answered, Failed } from "../../api/client";
import type { Problem, Sortie } from "../../api/types";
import type { SortieWork } from "../useSortie";

/** What is added beside a signed sortie: sent, and the sortie taken as it is then; or what is wrong with it. */
export function useSending(work: SortieWork) {
  const [problems, setProblems] = useState<Problem[]>([]);
  const send = async (asked: Promise<{ data?: Sortie }>, then?: () => void) => {
    try {
      work.accept(await answered(asked));
      setProblems([]);
      then?.();
    } catch (error) {
      if (error instanceof Failed) setProblems(error.problems);
    }
  };
  return { problems, send };
}
