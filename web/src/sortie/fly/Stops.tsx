import { useEffect, useState } from "react";
import type { Attempt } from "../../api/types";
import type { Notes } from "../../notes/useNotes";
import type { FlyFigure } from "./figures";
import { crossedBy, untold, type Crossed } from "./lines";
import type { Step } from "./steps";
import { StopScreen } from "./StopScreen";

interface Props {
  figures: readonly FlyFigure[];
  notes: Pick<Notes, "attempts" | "noteSeen">;
  /** Since the first figure; null before it. */ minutes: number | null;
  onWrong: (attempt: Attempt, step: Step) => void;
}

/** What was crossed and nobody was told of takes the whole screen, one line after the other; it stays on the record. */
export function Stops({ figures, notes, minutes, onWrong }: Props) {
  /** The one whose number is being corrected. */ const [corrected, setCorrected] = useState<string | null>(
    null,
  );
  const first = firstUntold(figures, notes.attempts, minutes);
  const key = first && `${first.attempt.id} ${first.crossed.line.kind} ${first.crossed.value}`;
  useEffect(() => {
    if (key !== null) navigator.vibrate?.([300, 100, 300]);
  }, [key]);
  if (!first || key === corrected) return null;
  const { attempt, crossed } = first;
  return (
    <StopScreen
      key={key}
      crossed={crossed}
      onSeen={() => notes.noteSeen(attempt, { [crossed.line.kind]: crossed.value })}
      onWrong={() => {
        setCorrected(key);
        onWrong(attempt, STEP_OF[crossed.line.of] ?? "went");
      }}
    />
  );
}

const STEP_OF: Partial<Record<Crossed["line"]["of"], Step>> = {
  height: "lowest_ft",
  recover: "recover_ft",
  feel: "feel",
  feel_drop: "feel",
};

function firstUntold(
  figures: readonly FlyFigure[],
  attempts: readonly Attempt[],
  minutes: number | null,
): { attempt: Attempt; crossed: Crossed } | null {
  const fuelTold = attempts.some((a) => a.stops.some((s) => s.kind === "fuel reserve"));
  let feel: number | null = null;
  for (const [i, attempt] of attempts.entries()) {
    const figure = figures.find((f) => f.planned.id === attempt.planned.id);
    // The fuel is that of the whole flight: it is told with the last figure, once.
    const clock = i === attempts.length - 1 && !fuelTold ? minutes : null;
    const crossed = figure && untold(crossedBy(figure, attempt, feel, clock), attempt)[0];
    if (crossed) return { attempt, crossed };
    feel = attempt.feel ?? feel;
  }
  return null;
}
