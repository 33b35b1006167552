import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { AGAIN_MS, answered, askedAgain, server } from "../api/client";
import type { CloserLook } from "../api/types";
import { withWorking } from "../why/working";
import type { Draft } from "./draft";

const AFTER_MS = 180;

/** One figure of the draft looked at closely; asked a moment after the hand rests, the last answer shown meanwhile. */
export function useCloser(
  sortieId: number,
  draft: Draft,
  figure: string | null,
  on = true,
): { look: CloserLook | null; failed: unknown; waiting: boolean } {
  const body = JSON.stringify([
    draft.plan.figures.find((f) => f.id === figure),
    draft.plan.day,
    draft.plan.load,
    draft.plan.own_floor_ft,
    draft.aircraft_id,
    draft.place_id,
  ]);
  const [asked, setAsked] = useState(body);
  useEffect(() => {
    const timer = setTimeout(() => setAsked(body), AFTER_MS);
    return () => clearTimeout(timer);
  }, [body]);
  const found = useQuery({
    queryKey: ["closer", sortieId, asked],
    enabled: on && figure !== null,
    placeholderData: keepPreviousData,
    staleTime: 60_000,
    retry: askedAgain,
    retryDelay: AGAIN_MS,
    // A figure that is left before it was answered is not worked on any more.
    queryFn: async ({ signal }) => {
      const params = { path: { sortie_id: sortieId } };
      const { plan, aircraft_id, place_id } = draft;
      const body = { plan, aircraft_id, place_id, figure: figure ?? "" };
      const look = await answered(server.POST("/api/sorties/{sortie_id}/closer", { params, signal, body }));
      return withWorking(look, "look", (at) =>
        answered(
          server.POST("/api/sorties/{sortie_id}/why", {
            params,
            body: { at, figure, draft: { plan, aircraft_id, place_id } },
          }),
        ),
      );
    },
  });
  const look = found.data?.id === figure ? (found.data ?? null) : null;
  return { look, failed: found.error, waiting: found.isFetching || asked !== body };
}
