import { Box, Button, LinearProgress } from "@mui/material";
import { useState } from "react";
import type { Attempt, FigureFound, Mark, Recorded, Trace } from "../../api/types";
import { FigureTrace } from "../../charts/FigureTrace";
import { Trouble } from "../../frame/states";
import type { SortieWork } from "../useSortie";
import { Marking } from "./Marking";
import { marksOf, shifted } from "./marks";
import { MovingMark } from "./Moving";
import type { Replay } from "./replay";
import { useReadOtherwise } from "./useReadAgain";

/** Of the last recording that counts and has it. */
export function recordingOf(recordings: readonly Recorded[], attempt: string): Recorded | null {
  const has = (one: Recorded) => !one.set_aside && one.flight.figures.some((f) => f.attempt === attempt);
  return [...recordings].reverse().find(has) ?? null;
}

export function foundIn(recordings: readonly Recorded[], attempt: string): FigureFound | null {
  return recordingOf(recordings, attempt)?.flight.figures.find((f) => f.attempt === attempt) ?? null;
}

interface Props {
  work: SortieWork;
  attempt: Attempt;
  recording: Recorded;
  title: string;
  /** When it really began, after it was found to (s). */ begins_s: number;
  trace: Trace;
  replay: Replay;
  words: readonly { at_s: number; word: string }[];
  beside: { points: readonly (readonly [number, number])[]; colour: string } | null;
}

/** The attempt as it was recorded, with its edges to be shifted, and the way to say what it was; nothing while it is
 * fetched. */
export function AttemptTrace({
  work,
  attempt,
  recording,
  title,
  begins_s,
  trace,
  replay,
  words,
  beside,
}: Props) {
  const [asked, setAsked] = useState(false);
  const again = useReadOtherwise(work, recording);
  const figure = work.answer.figures.find((f) => f.id === attempt.planned.id);
  const { flight } = recording;
  const at = flight.figures.findIndex((f) => f.attempt === attempt.id);
  const found = flight.figures[at];
  if (!found) return null;
  const mark = (figures: Mark[]) => again.read({ flight: flight.flight, without: flight.without, figures });
  const may = work.sortie.may.note;
  return (
    <Box sx={{ position: "relative", minWidth: 0, minHeight: 0, display: "grid" }}>
      <FigureTrace
        trace={trace}
        found={found}
        profile={figure?.profile ?? []}
        floor_ft={work.answer.floor.value}
        title={title}
        begins_s={begins_s}
        beside={beside}
        over={(scales) => <MovingMark replay={replay} trace={trace} scales={scales} words={words} />}
        onEdges={
          may
            ? (begins, ends) =>
                mark(
                  shifted(
                    marksOf(flight.figures),
                    at,
                    found.measured.begins_s + begins,
                    found.measured.begins_s + ends,
                  ),
                )
            : undefined
        }
      />
      {may && (
        <Button
          size="small"
          onClick={() => setAsked(true)}
          sx={{ position: "absolute", left: 122, bottom: 22, minWidth: 0, px: 0.5 }}
        >
          What was flown here?
        </Button>
      )}
      {again.reading && <LinearProgress aria-label="Measured again" sx={{ alignSelf: "end" }} />}
      {again.error != null && <Trouble error={again.error} />}
      {asked && (
        <Marking
          figures={flight.figures}
          at={at}
          plan={work.draft.plan.figures}
          titles={work.answer.titles}
          onMark={mark}
          onClose={() => setAsked(false)}
        />
      )}
    </Box>
  );
}
