"""Where the height of an attempt went against the plan."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

from keelturn.figures.catalogue import figure_of
from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.flying.costs import fly_usual
from keelturn.noting.attempt import Attempt
from keelturn.working import Answer, Source, given, signed, what_is_left, worked

NOTED = Source("flown", "noted by hand")
OFFERED = Source("plan", "accepted as offered, not read off")


class Cause(StrEnum):
    """What a step away from the brief was."""

    TURNS = "turns"
    LATE = "late"
    PULL = "pull"
    RECOVERY = "recovery"
    NOT_SPLIT = "not split"


@dataclass(frozen=True, slots=True)
class LossLine:
    cause: Cause
    part: str
    height_ft: float
    shown: str


@dataclass(frozen=True, slots=True)
class LossAccount:
    """lines add up to `flown` exactly, and as they are read: the briefed loss, then each step away from it.
    say: only in older signed records, what was said then (today: advice.py)."""

    planned: Answer
    flown: Answer
    lines: tuple[LossLine, ...]
    say: str = ""


def loss_account(attempt: Attempt, conditions: Conditions) -> LossAccount | None:
    """None until start and lowest height are noted. The briefed loss is computed from the start height that
    was flown."""
    lost = attempt.lost_ft
    if lost is None or attempt.start_ft is None or attempt.lowest_ft is None:
        return None
    briefed = attempt.planned.model_copy(update={"start_ft": attempt.start_ft})
    usual = fly_usual(briefed, conditions)
    # What ends above where it began loses nothing: from the start to the lowest is never less.
    briefed_ft = max(0.0, usual.lost_ft)
    planned = worked(
        "As briefed",
        briefed_ft,
        "ft",
        "likely loss of the plan, from the start height flown",
    )
    start, lowest = (OFFERED if name in attempt.offered else NOTED for name in ("start_ft", "lowest_ft"))
    flown = worked(
        "Flown, as offered" if attempt.loss_is_offered else "Flown",
        lost,
        "ft",
        "start - lowest, as noted",
        given("Start", attempt.start_ft, "ft", start),
        given("Lowest", attempt.lowest_ft, "ft", lowest),
        source=lowest,
    )
    found = [_turns_step(attempt, briefed, conditions)]
    recovers = figure_of(briefed.key).situation is not None
    if recovers and attempt.recover_ft is not None:
        late = attempt.start_ft - attempt.recover_ft - usual.before_recovery_ft - _height(found)
        found.append(_line(Cause.LATE, "Before the recovery was called", late))
    found.append(_pull_step(attempt, briefed, conditions, usual.lost_ft))
    rest = lost - briefed_ft - _height(found)
    if not recovers:
        found.append(_line(Cause.NOT_SPLIT, "Technique, not split", rest))
    elif attempt.recover_ft is None:
        found.append(_line(Cause.NOT_SPLIT, "Technique, not split: no height at the recovery", rest))
    else:
        found.append(_line(Cause.RECOVERY, "Recovery technique", rest))
    *steps, last = (line for line in found if line is not None)
    left = what_is_left(flown, planned, [line.height_ft for line in steps])
    return LossAccount(planned, flown, (*steps, replace(last, shown=left)))


def _line(cause: Cause, words: str, height_ft: float) -> LossLine:
    return LossLine(cause, words, height_ft, signed(height_ft))


def _height(lines: Sequence[LossLine | None]) -> float:
    return sum(line.height_ft for line in lines if line is not None)


def _turns_step(attempt: Attempt, briefed: PlannedFigure, conditions: Conditions) -> LossLine | None:
    if attempt.turns is None or "turns" not in figure_of(briefed.key).parameters:
        return None
    more = attempt.turns - briefed.parameter("turns")
    if abs(more) < 0.1 or attempt.turns < 0.25:
        return None
    other = briefed.model_copy(
        update={"parameters": {**briefed.parameters, "turns": min(6.0, attempt.turns)}}
    )
    height = fly_usual(other, conditions).lost_ft - fly_usual(briefed, conditions).lost_ft
    words = f"{abs(more):g} {'more' if more > 0 else 'fewer'} turn{'' if abs(more) == 1.0 else 's'}"
    return _line(Cause.TURNS, f"{words} than briefed", height)


def _pull_step(
    attempt: Attempt, briefed: PlannedFigure, conditions: Conditions, usual_ft: float
) -> LossLine | None:
    if attempt.most_g is None or "pull_g" not in figure_of(briefed.key).parameters:
        return None
    change = attempt.most_g - briefed.parameter("pull_g")
    if abs(change) < 0.15 or attempt.most_g < 1.3:
        return None
    height = fly_usual(briefed, conditions, "student", pull_g=change).lost_ft - usual_ft
    words = f"Pull {attempt.most_g:.1f} g, briefed {briefed.parameter('pull_g'):.1f}"
    return _line(Cause.PULL, words, height)
