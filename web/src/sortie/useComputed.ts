import { useEffect, useMemo, useRef, useState } from "react";
import { AGAIN_MS, answered, askedAgain, Failed, server } from "../api/client";
import type { PlanAnswer, Problem, Sortie } from "../api/types";
import { withWorking } from "../why/working";
import type { Draft } from "./draft";

const BREATH_MS = 90;
const OFFLINE_MS = 3000;

/** Why the answer is not of this draft: it is being computed, nobody answers, or it cannot be computed. */
export type Stale = "computing" | "no answer" | "refused";

interface Found {
  /** The draft that the answer is of. */ of: string;
  answer: PlanAnswer;
}
/** The last draft that got no answer, and why. */
interface Without {
  of: string;
  refusal: Problem[];
}

/** The plan of the draft, computed by the server as it changes: one request at a time, always the latest draft next. An
 * answer is never older than it says: `stale` tells when it is not of this draft. What nobody answered is asked again. */
export function useComputed(sortie: Sortie, draft: Draft, on: boolean) {
  const wanted = useMemo(
    () => JSON.stringify([draft.plan, draft.aircraft_id, draft.place_id]),
    [draft.plan, draft.aircraft_id, draft.place_id],
  );
  const stored = useMemo(
    () => ({
      of: JSON.stringify([sortie.plan, sortie.aircraft_id, sortie.place_id]),
      answer: sortie.answer,
    }),
    [sortie],
  );
  const [found, setFound] = useState<Found>(stored);
  const [without, setWithout] = useState<Without | null>(null);
  const latest = useRef({ wanted, draft });
  const running = useRef(false);
  const here = useRef(true);
  useEffect(() => {
    here.current = true;
    return () => void (here.current = false);
  }, []);
  useEffect(() => {
    latest.current = { wanted, draft };
    if (!on || running.current || found.of === wanted || without?.of === wanted) return;
    const run = async () => {
      running.current = true;
      for (let done = "", refused = 0; here.current && done !== latest.current.wanted;) {
        const { wanted: of, draft: asked } = latest.current;
        try {
          setFound({ of, answer: await computed(sortie.id, asked) });
          setWithout(null);
        } catch (error) {
          if (askedAgain(refused++, error)) {
            await after(AGAIN_MS);
            continue;
          }
          const answers = error instanceof Failed && error.status >= 400 && error.status < 500;
          setWithout({ of: answers ? of : "", refusal: answers ? error.problems : [] });
          if (!answers) {
            // Nobody answers: the same again, until somebody does.
            await after(OFFLINE_MS);
            continue;
          }
        }
        [done, refused] = [of, 0];
        // A breath between two questions: the hand comes before the numbers.
        if (done !== latest.current.wanted) await after(BREATH_MS);
      }
      running.current = false;
    };
    void run();
  }, [wanted, draft, on, found.of, without?.of, sortie.id]);
  // Of what is stored, the server has just said it.
  const best = !on || stored.of === wanted ? stored : found;
  const stale: Stale | null =
    best.of === wanted || !on
      ? null
      : !without
        ? "computing"
        : without.of === wanted
          ? "refused"
          : "no answer";
  return {
    answer: best.answer,
    refusal: stale === "refused" ? (without?.refusal ?? []) : [],
    stale,
  };
}

async function computed(sortie_id: number, draft: Draft): Promise<PlanAnswer> {
  const params = { path: { sortie_id } };
  const body = { plan: draft.plan, aircraft_id: draft.aircraft_id, place_id: draft.place_id };
  const answer = await answered(server.POST("/api/sorties/{sortie_id}/preview", { params, body }));
  return withWorking(answer, "answer", (at) =>
    answered(server.POST("/api/sorties/{sortie_id}/why", { params, body: { at, draft: body } })),
  );
}

/** After a while, or as soon as the network is back. */
function after(ms: number): Promise<void> {
  return new Promise((done) => {
    const end = () => {
      clearTimeout(timer);
      window.removeEventListener("online", end);
      done();
    };
    const timer = setTimeout(end, ms);
    window.addEventListener("online", end);
  });
}
