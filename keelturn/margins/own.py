"""This student's own likely loss, 19-in-20 loss and lowest start beside the population's, and which of the
two rules: the stricter, until the chief's number of attempts is counted; then the student's own."""

from collections.abc import Sequence
from dataclasses import dataclass
from statistics import NormalDist
from typing import Literal

from keelturn.flying.conditions import Conditions
from keelturn.flying.deviations import OwnLoss, at_stake, beyond_at
from keelturn.margins.floors import lowest_start
from keelturn.working import Answer, Source, given, in_words, read_off, worked

# Standard deviations to either side, 9 in 10 of a normal form.
NINE_IN_TEN = 1.645


@dataclass(frozen=True, slots=True)
class OwnFigure:
    """likely, worst, lowest_start: this student's own; beside them the population's 19-in-20 loss and lowest
    start. attempts: at this figure, of `needed`. rules: whose 19-in-20 loss the plan goes by. doubt_ft: the
    likely loss is known give or take so much, 9 times in 10. words: all of that for a reader."""

    likely: Answer
    worst: Answer
    lowest_start: Answer
    population_worst: Answer
    population_start: Answer
    attempts: int
    needed: int
    rules: Literal["population", "own"]
    doubt_ft: float
    words: str


def own_figure(
    key: str,
    likely: Answer,
    worst: Answer,
    lies: Sequence[float],
    floor: Answer,
    recovery: Answer,
    conditions: Conditions,
) -> OwnFigure | None:
    """likely, worst, lies: the population's. None where nothing is known of the student, or no height is at
    stake."""
    own = conditions.own.get(key)
    if own is None or not at_stake(lies):
        return None
    needed = round(conditions.standards.own_attempts.value)
    counted = given("Attempts counted", float(own.attempts), "", Source("flown", "debriefed flights"))
    usual_ft = beyond_at(own.usual, lies)
    doubt = 0.5 * sum(
        abs(beyond_at(own.usual + side * NINE_IN_TEN * own.unsure, lies) - usual_ft) for side in (-1.0, 1.0)
    )
    its = worked(
        "Own likely loss",
        max(0.0, likely.value + usual_ft),
        "ft",
        "likely loss of the population, moved to where this student's attempts lie among its pilots; known"
        f" give or take {in_words(doubt, 'ft', 'up')}, 9 times in 10",
        likely,
        counted,
        rounding="up",
    )
    # The account of the usual student stands by itself: nobody is planned below it.
    its_worst = worked(
        "Own loss 19 times in 20",
        likely.value + max(0.0, beyond_at(own.in_20, lies)),
        "ft",
        "own likely loss + what this student varies and how little is known of them; never less than the"
        " likely loss of the population",
        its,
        likely,
        rounding="up",
    )
    rules: Literal["population", "own"] = (
        "own" if own.attempts >= needed or its_worst.value > worst.value else "population"
    )
    return OwnFigure(
        its,
        its_worst,
        lowest_start(floor, its_worst, recovery, conditions),
        worst,
        lowest_start(floor, worst, recovery, conditions),
        own.attempts,
        needed,
        rules,
        doubt,
        _words(own.attempts, needed, rules),
    )


def ruling(worst: Answer, own: OwnFigure | None) -> Answer:
    """The 19-in-20 loss that the plan goes by. worst: the population's."""
    if own is None:
        return worst
    label, by = "Loss 19 times in 20", own.worst if own.rules == "own" else worst
    return worked(
        label,
        by.value,
        "ft",
        own.words,
        worst,
        own.worst,
        rounding="up",
        levers=worst.levers,
        hill=worst.hill,
    )


@dataclass(frozen=True, slots=True)
class OwnPlace:
    """Where a student stands among the population's pilots in one figure, and what that was in feet when it
    was last briefed. in_100: that many of 100 pilots lose less than the student usually does, between least
    and most 9 times in 10. likely_ft, worst_ft: own, as they are read, with the population's beside them."""

    figure: str
    attempts: int
    needed: int
    in_100: int
    least: int
    most: int
    likely_ft: float
    worst_ft: float
    population_likely_ft: float
    population_worst_ft: float
    words: str


def own_place(figure: str, own: OwnLoss, likely_ft: float, lies: Sequence[float], needed: int) -> OwnPlace:
    """likely_ft, lies: the population's, of the brief."""
    middle, least, most = (
        min(99, max(1, round(100.0 * NormalDist().cdf(own.usual + side * NINE_IN_TEN * own.unsure))))
        for side in (0.0, -1.0, 1.0)
    )
    counted = f"{own.attempts} of {needed} attempts" if own.attempts < needed else f"{own.attempts} attempts"
    return OwnPlace(
        figure,
        own.attempts,
        needed,
        middle,
        least,
        most,
        _read(max(0.0, likely_ft + beyond_at(own.usual, lies))),
        _read(likely_ft + max(0.0, beyond_at(own.in_20, lies))),
        _read(likely_ft),
        _read(likely_ft + lies[-1]),
        f"Of 100 pilots of the population {middle} lose less here; between {least} and {most}, 9 times in 10,"
        f" from {counted}.",
    )


def _read(feet: float) -> float:
    return read_off(feet, "ft", "up")


def _words(attempts: int, needed: int, rules: str) -> str:
    whose = "this student's own" if rules == "own" else "the population's"
    if attempts >= needed:
        return f"{attempts} attempts counted, {needed} asked for: {whose} rules"
    if attempts == 0:
        return f"none counted at this figure, so from others and the school; the larger rules: {whose}"
    return f"{attempts} of {needed} attempts counted; until then the larger rules: {whose}"
