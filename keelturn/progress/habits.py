"""Which fault this student makes, and whether it is going away.

Common practice, no published source: the first three lessons in which the figure was flown against the last
three; said only where it is nine times in ten sure."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from keelturn.figures.catalogue import figure_of
from keelturn.figures.figure import fault_of
from keelturn.noting.attempt import Attempt

Trend = Literal["gone", "going away", "not going away", "new", "too few to tell"]
LESSONS = 3
FEWEST = 4
# How probable a change must be before it is said.
SURE = 0.9
# What stays: so many in the last lessons, and of so many chances a share.
STAYS, STAYS_SHARE = 2, 0.25


@dataclass(frozen=True, slots=True)
class FaultTrend:
    key: str
    words: str
    trend: Trend
    first: int
    first_of: int
    last: int
    last_of: int
    sentence: str


def fault_trends(lessons: Sequence[Sequence[Attempt]]) -> tuple[FaultTrend, ...]:
    """Faults noted, most frequent of late first. lessons: attempts by lesson, oldest first; what the student
    did not fly, or not to the end, does not count."""
    flown = [[a for a in lesson if a.flown_by.by_student and a.to_the_end] for lesson in lessons]
    words: dict[str, str] = {}
    for lesson in flown:
        for attempt in lesson:
            for key in attempt.faults:
                fault = fault_of(figure_of(attempt.planned.key), key)
                if fault is not None:
                    words[key] = fault.words
    found = [_trend(key, text, flown) for key, text in words.items()]
    order = {"not going away": 0, "new": 1, "going away": 2, "too few to tell": 3, "gone": 4}
    return tuple(sorted(found, key=lambda f: (order[f.trend], -f.last)))


def _trend(key: str, words: str, lessons: Sequence[Sequence[Attempt]]) -> FaultTrend:
    able = [
        [key in a.faults for a in chances]
        for lesson in lessons
        if (chances := [a for a in lesson if fault_of(figure_of(a.planned.key), key)])
    ]
    early, late = _enough(able), _enough(able[::-1])
    first, first_of = _made(early)
    last, last_of = _made(late)
    trend: Trend = "too few to tell"
    sure = ""
    if len(early) + len(late) <= len(able) and min(first_of, last_of) >= FEWEST:
        fell = falls(first, first_of, last, last_of)
        if fell >= SURE:
            trend = "going away" if last else "gone"
        elif 1 - fell >= SURE and first == 0:
            trend = "new"
        elif last >= STAYS and last >= STAYS_SHARE * last_of:
            trend = "not going away"
        if trend in ("gone", "going away", "new"):
            sure = f", {min(99, int(100 * max(fell, 1 - fell)))} in 100 sure"
    sentence = (
        f"{_lessons('first', len(early))}: {first} of {first_of}; {_lessons('last', len(late))}: {last} of"
        f" {last_of}; {trend}{sure}"
    )
    return FaultTrend(key, words, trend, first, first_of, last, last_of, sentence)


def _enough(able: Sequence[Sequence[bool]]) -> Sequence[Sequence[bool]]:
    """The first lessons of these: so many, and more where they had too few chances."""
    count = next(
        (n for n in range(LESSONS, len(able)) if sum(map(len, able[:n])) >= FEWEST), max(LESSONS, len(able))
    )
    return able[:count]


def _made(lessons: Sequence[Sequence[bool]]) -> tuple[int, int]:
    return sum(map(sum, lessons)), sum(map(len, lessons))


def falls(first: int, first_of: int, last: int, last_of: int) -> float:
    """How probable it is that the fault is rarer in the last than in the first, nothing known before: both
    shares have a beta distribution with one made and one not made added. Source: Bayesian inference for two
    proportions, a textbook result; the sum is exact for whole numbers."""
    a, b = 1 + last, 1 + last_of - last
    c, d = 1 + first, 1 + first_of - first
    terms = (
        math.exp(_ln_beta(a + i, b + d) - math.log(d + i) - _ln_beta(1 + i, d) - _ln_beta(a, b))
        for i in range(c)
    )
    return sum(terms)


def _ln_beta(a: float, b: float) -> float:
    return math.lgamma(a) + math.lgamma(b) - math.lgamma(a + b)


def in_a_row(lessons: Sequence[Sequence[Attempt]]) -> dict[str, int]:
    """By the fault's key, in how many of the last lessons it was noted, one after the other; a lesson without
    a figure that has it neither counts nor breaks the row. lessons: as for fault_trends."""
    counted: dict[str, int] = {}
    ended: set[str] = set()
    for lesson in reversed(lessons):
        flown = [a for a in lesson if a.flown_by.by_student and a.to_the_end]
        noted = {key for attempt in flown for key in attempt.faults}
        able = {fault.key for attempt in flown for fault in figure_of(attempt.planned.key).faults}
        for key in noted - ended:
            counted[key] = counted.get(key, 0) + 1
        ended |= able - noted
    return counted


def _lessons(which: str, count: int) -> str:
    return f"{which} {count} lessons" if count > 1 else f"{which} lesson"
