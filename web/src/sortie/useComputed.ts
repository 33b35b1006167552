import { useEffect, useMemo, useRef, useState } from "react";
import { AGAIN_MS, answered, askedAgain, Failed, server } from "../api/client";
import type { PlanAnswer, Problem, Sortie } from "../api/types";
import type { Draft } from "./draft";

const BREATH_MS = 90;

/** The plan of the draft, computed by the server as it changes: one request at a time, always the latest draft next. */
export function useComputed(sortie: Sortie, draft: Draft, on: boolean) {
  const wanted = useMemo(
    () => JSON.stringify([draft.plan, draft.aircraft_id, draft.place_id]),
    [draft.plan, draft.aircraft_id, draft.place_id],
  );
  const base = useMemo(() => JSON.stringify([sortie.plan, sortie.aircraft_id, sortie.place_id]), [sortie]);
  const [found, setFound] = useState<{ of: string; answer: PlanAnswer; refusal: Problem[] }>({
    of: base,
    answer: sortie.answer,
    refusal: [],
  });
  const latest = useRef({ wanted, draft });
  const running = useRef(false);
  useEffect(() => {
    latest.current = { wanted, draft };
    if (!on || running.current || found.of === wanted) return;
    const run = async () => {
      running.current = true;
      for (let done = "", refused = 0; done !== latest.current.wanted;) {
        const { wanted: of, draft: asked } = latest.current;
        try {
          const answer = await answered(
            server.POST("/api/sorties/{sortie_id}/preview", {
              params: { path: { sortie_id: sortie.id } },
              body: { plan: asked.plan, aircraft_id: asked.aircraft_id, place_id: asked.place_id },
            }),
          );
          setFound({ of, answer, refusal: [] });
        } catch (error) {
          if (askedAgain(refused++, error)) {
            await new Promise((later) => setTimeout(later, AGAIN_MS));
            continue;
          }
          setFound((f) => ({ ...f, of, refusal: error instanceof Failed ? error.problems : [] }));
        }
        [done, refused] = [of, 0];
        // A breath between two questions: the hand comes before the numbers.
        if (done !== latest.current.wanted) await new Promise((later) => setTimeout(later, BREATH_MS));
      }
      running.current = false;
    };
    void run();
  }, [wanted, draft, on, found.of, sortie.id]);
  const current = on ? found : { of: base, answer: sortie.answer, refusal: [] };
  return { answer: current.answer, refusal: current.refusal, computing: on && current.of !== wanted };
}
