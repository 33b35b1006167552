import { useQueryClient } from "@tanstack/react-query";
import { useCallback } from "react";
import { api } from "../../api/client";
import { askAgain } from "../../api/questions";
import type { ReadAgain, Recorded } from "../../api/types";
import type { SortieWork } from "../useSortie";

/** What follows from a recording is asked again: it was read otherwise, or another counts. */
export function useReadAgain({ refresh }: SortieWork): () => Promise<void> {
  const queries = useQueryClient();
  return useCallback(async () => {
    askAgain(queries, "/api/sorties/{sortie_id}/recordings", "/api/sorties/{sortie_id}/traces/{attempt}");
    await refresh();
  }, [queries, refresh]);
}

/** The kept file read otherwise: another flight, without a step, its figures as they are marked. */
export function useReadOtherwise(work: SortieWork, { id }: Recorded) {
  const onRead = useReadAgain(work);
  const again = api.useMutation("post", "/api/sorties/{sortie_id}/recordings/{recording_id}/again", {
    onSuccess: () => onRead(),
  });
  const path = { sortie_id: work.sortie.id, recording_id: id };
  return {
    read: (body: ReadAgain) => again.mutate({ params: { path }, body }),
    reading: again.isPending,
    error: again.error as unknown,
  };
}
