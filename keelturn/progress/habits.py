"""Which fault this student makes, and whether it is going away.

Common practice, no published source: the first three lessons in which the figure was flown against the last
three."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from keelturn.figures.catalogue import figure_of
from keelturn.figures.figure import fault_of
from keelturn.noting.attempt import Attempt

Trend = Literal["gone", "going away", "not going away", "new", "too few to tell"]
LESSONS = 3
FEWEST = 4


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
        chances
        for lesson in lessons
        if (chances := [a for a in lesson if fault_of(figure_of(a.planned.key), key)])
    ]
    early, late = able[:LESSONS], able[-LESSONS:]
    first_of, last_of = sum(map(len, early)), sum(map(len, late))
    first = sum(key in a.faults for lesson in early for a in lesson)
    last = sum(key in a.faults for lesson in late for a in lesson)
    trend: Trend
    if len(able) < 2 * LESSONS or first_of < FEWEST or last_of < FEWEST or first + last < 3:
        trend = "too few to tell"
    elif last == 0:
        trend = "gone"
    elif first == 0:
        trend = "new"
    elif last / last_of <= 0.6 * first / first_of:
        trend = "going away"
    else:
        trend = "not going away"
    sentence = (
        f"{_lessons('first', len(early))}: {first} of {first_of}; {_lessons('last', len(late))}: {last} of"
        f" {last_of}; {trend}"
    )
    return FaultTrend(key, words, trend, first, first_of, last, last_of, sentence)


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
