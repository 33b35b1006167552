import { useMemo, useState } from "react";
import { api } from "../../api/client";
import type { Attempt, EarlierGo, FigureFound, Recorded, Technique, Trace } from "../../api/types";
import { dayAndTime } from "../../frame/dates";
import { tokens } from "../../theme";
import type { SortieWork } from "../useSortie";
import { AttemptTrace, foundIn } from "./AttemptTrace";
import { OrderAndTiming } from "./OrderAndTiming";
import { Replay } from "./replay";
import { ReplayBar, type Against } from "./ReplayBar";

const BEST = "best";

interface Props {
  work: SortieWork;
  attempt: Attempt;
  attempts: readonly Attempt[];
  recordings: readonly Recorded[];
  recording: Recorded;
  /** Null while it is fetched. */ trace: Trace | null;
  replay: Replay;
  technique: Technique | null | undefined;
  waiting: boolean;
  titleOf: (attempt: Attempt) => string;
}

/** A recorded attempt: its trace and the order of its inputs, flown again beside the brief, the best, or another go. */
export function FlownAgain(props: Props) {
  const { work, attempt, attempts, recordings, recording, trace, replay, technique, waiting, titleOf } =
    props;
  const [chosen, setChosen] = useState("");
  const found = foundIn(recordings, attempt.id);
  const others = attempts.filter(
    (a) => a.id !== attempt.id && a.planned.key === attempt.planned.key && foundIn(recordings, a.id),
  );
  const earlier = useEarlier(work.sortie.id, attempt.id);
  const go = earlier.find((one) => nameOf(one) === chosen);
  const otherTrace = useTrace(
    go?.sortie_id ?? work.sortie.id,
    go?.attempt ?? (others.some((a) => a.id === chosen) ? chosen : null),
  );
  const otherFound = go?.found ?? foundIn(recordings, chosen);
  const begins_s = technique?.begins_s ?? 0;
  const { debrief } = work.draft;
  const words = debrief.moments.filter((one) => one.attempt === attempt.id);
  const setWords = (moments: typeof debrief.moments) =>
    work.change((d) => ({ ...d, debrief: { ...d.debrief, moments } }), "a word to a moment");
  const against: Against[] = [
    ...(technique?.best_path.length ? [{ key: BEST, words: "the best by this method" }] : []),
    ...others.map((a) => ({ key: a.id, words: `${titleOf(a)}, ${a.flown_by}` })),
    ...earlier.map((one) => ({ key: nameOf(one), words: `the same on ${dayAndTime(one.planned_for)}` })),
  ];
  const beside =
    chosen === BEST && technique?.lanes
      ? {
          points: technique.best_path.map(
            ([s = 0, ft = 0]) => [s + begins_s + (technique.lanes?.called_s ?? 0), ft] as const,
          ),
          colour: tokens.best,
        }
      : found && otherFound && otherTrace
        ? { points: alignedAtTheCall(otherTrace, otherFound, found), colour: tokens.slate }
        : null;
  return (
    <>
      {trace && (
        <ReplayBar
          replay={replay}
          trace={trace}
          title={titleOf(attempt)}
          speedUnit={work.sortie.speed_unit}
          against={against}
          chosen={against.some((one) => one.key === chosen) ? chosen : ""}
          onChoose={setChosen}
          words={words}
          onWord={
            work.sortie.may.grade
              ? (word) => setWords([...debrief.moments, { attempt: attempt.id, ...word }])
              : undefined
          }
          onWithout={(word) =>
            setWords(
              debrief.moments.filter(
                (one) => one.attempt !== attempt.id || one.at_s !== word.at_s || one.word !== word.word,
              ),
            )
          }
        />
      )}
      {trace ? (
        <AttemptTrace
          work={work}
          attempt={attempt}
          recording={recording}
          title={titleOf(attempt)}
          begins_s={begins_s}
          trace={trace}
          replay={replay}
          words={words}
          beside={beside}
        />
      ) : (
        <span />
      )}
      <OrderAndTiming
        technique={technique}
        waiting={waiting}
        title={titleOf(attempt)}
        replay={trace ? replay : null}
        begins_s={begins_s}
      />
    </>
  );
}

/** Of a recorded attempt, with the moment that is looked at. */
export function useReplay(
  sortie_id: number,
  attempt: string | null,
): { trace: Trace | null; replay: Replay } {
  const trace = useTrace(sortie_id, attempt);
  const replay = useMemo(() => new Replay(trace?.seconds[0] ?? 0, trace?.seconds.at(-1) ?? 1), [trace]);
  return { trace, replay };
}

const NONE: EarlierGo[] = [];
const nameOf = (go: EarlierGo) => `${go.sortie_id} ${go.attempt}`;

/** The student's recorded goes at the same figure before this flight. */
function useEarlier(sortie_id: number, attempt: string): EarlierGo[] {
  const params = { path: { sortie_id, attempt } };
  return api.useQuery("get", "/api/sorties/{sortie_id}/earlier/{attempt}", { params }).data ?? NONE;
}

/** Null while it is fetched, and where no heights were recorded. */
function useTrace(sortie_id: number, attempt: string | null): Trace | null {
  const path = { sortie_id, attempt: attempt ?? "" };
  const asked = api.useQuery(
    "get",
    "/api/sorties/{sortie_id}/traces/{attempt}",
    { params: { path } },
    { enabled: attempt !== null },
  ).data;
  return asked && asked.height_ft.length > 0 ? asked : null;
}

/** Another go over this one: seconds since this one began, feet above its start, both from where they were recovered. */
export function alignedAtTheCall(trace: Trace, other: FigureFound, mine: FigureFound): [number, number][] {
  /** The first phase ends where it is called. */
  const called = (f: FigureFound) =>
    f.measured.phases.length > 1 ? (f.measured.phases[0]?.seconds ?? 0) : 0;
  const later = called(mine) - called(other);
  return trace.seconds.map((s, i) => [s + later, (trace.height_ft[i] ?? 0) - other.measured.start_ft]);
}
