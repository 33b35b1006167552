"""What is kept of a brief for the day on which it is looked back on, and how far an attempt lay from it."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from keelturn.assess.loss import Cause, LossAccount
from keelturn.assess.where import where_height_went
from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.flying.deviations import deviation_of
from keelturn.noting.attempt import Attempt, Outcome
from keelturn.noting.earned import OUTCOME_SHOWS
from keelturn.plan.figure_answer import FigureAnswer


@dataclass(frozen=True, slots=True)
class Briefed:
    """Of one planned figure: where the losses of the population's pilots lie (ft beyond the likely, at the
    deviates of flying/deviations.py), and the least height that the aircraft allowed, None where the usual
    pilot loses no more."""

    lies: tuple[float, ...]
    best_ft: float | None


def briefed_of(
    flown: Iterable[tuple[PlannedFigure, FigureAnswer]], conditions: Conditions
) -> dict[str, Briefed]:
    """By the planned figure's id."""
    return {
        planned.id: Briefed(answer.lies, _best(planned, answer, conditions))
        for planned, answer in flown
        if answer.lies
    }


def _best(planned: PlannedFigure, answer: FigureAnswer, conditions: Conditions) -> float | None:
    best = where_height_went(planned, conditions, {}).best_ft
    return best if best < answer.likely.value else None


def counted_deviation(
    attempt: Attempt, account: LossAccount | None, lies: Sequence[float] | None
) -> float | None:
    """Of an attempt that says something of the student: flown by them to the end, it became the figure, and
    its lowest height was read off.
    More or fewer turns than briefed are taken off."""
    became = OUTCOME_SHOWS[attempt.outcome or Outcome.AS_INTENDED] is not None
    if account is None or not lies or not became or attempt.loss_is_offered:
        return None
    if not attempt.flown_by.by_student or not attempt.to_the_end:
        return None
    turns = sum(line.height_ft for line in account.lines if line.cause == Cause.TURNS)
    beyond = account.flown.value - account.planned.value - turns
    return deviation_of(beyond, lies, attempt.taken_over_ft is not None)
