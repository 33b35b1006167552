"""The whole school seen by its chief, from what was flown and debriefed: what the proposals got wrong, what
went beyond a limit, where students get stuck, how instructors grade beside the school's standard, and what
each aircraft flew (common practice, no published source)."""

import math
from collections import Counter
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import date

from scipy.special import bdtr

from keelturn.assess.grade import grade_by_notes
from keelturn.figures.catalogue import figure_of
from keelturn.flying.deviations import IN_20
from keelturn.noting.attempt import Attempt
from keelturn.progress.alike import mean_and_doubt
from keelturn.progress.states import Flown, State, belongs
from keelturn.progress.way import Way
from keelturn.school.grading import GRADES
from keelturn.school.standards import Standards
from keelturn.working import read_off, signed

# Of fewer attempts, or of fewer students, nothing is said of a figure or of an instructor.
FEWEST, FEWEST_STUDENTS = 8, 3
# Flights spent on a task without reaching what the course needs, from which somebody is stuck.
STUCK_FLIGHTS = 3
# How seldom by chance alone before grades are said to lean to one side.
CHANCE = 0.05
# Half of an interval that holds 9 times in 10, in standard errors (normal form), and what 19 in 20 allow.
NINE_IN_TEN, WITHIN = 1.645, 0.95


@dataclass(frozen=True, slots=True)
class AttemptSeen:
    """What counts here of one debriefed attempt; lost and briefed in ft. deviation: as of
    flying/deviations.py, None for one that says nothing of the student. beyond: what went beyond a limit, and
    in words. graded: whether the instructor graded it; steps: by how many grades above what the same notes
    come to by the school's standard, None where they come to none."""

    figure: str
    to_the_end: bool
    lost_ft: float | None
    briefed_ft: float | None
    deviation: float | None
    beyond: tuple[tuple[str, str], ...] = ()
    graded: bool = False
    steps: int | None = None


@dataclass(frozen=True, slots=True)
class FlightSeen:
    """A debriefed flight with who, in what, and how long it was in the air: None where nobody noted it."""

    flight: int
    day: date
    student: str
    instructor: str
    aircraft: str
    minutes: float | None
    attempts: tuple[AttemptSeen, ...]


@dataclass(frozen=True, slots=True)
class StuckOn:
    """A task on which somebody has spent flights and is not yet where the course needs them."""

    course: str
    task: str
    title: str
    flights: int


# One attempt with its flight.
_Known = tuple[FlightSeen, AttemptSeen]


@dataclass(frozen=True, slots=True)
class FigureCost:
    """A figure as its students flew it. beyond_ft: beyond the brief in the mean, between least and most 9
    times in 10 (None of too few); all_ft: of all of them together. within: how many of them lay within the
    loss 19 times in 20. sure: that the brief is wrong about it."""

    figure: str
    name: str
    attempts: int
    beyond_ft: float
    least_ft: float | None
    most_ft: float | None
    all_ft: float
    within: int
    sure: bool
    words: str


@dataclass(frozen=True, slots=True)
class Beyond:
    """What went beyond a limit. what: 'taken over', 'broken off', or the limit that was crossed."""

    what: str
    words: str
    flight: int
    day: date
    student: str
    instructor: str


@dataclass(frozen=True, slots=True)
class Stuck:
    """A task on which students have spent flights and are not yet where the course needs them."""

    course: str
    task: str
    title: str
    students: tuple[str, ...]
    flights: int
    words: str


@dataclass(frozen=True, slots=True)
class Grader:
    """An instructor's grades beside those that the same notes come to by the school's standard: how many are
    the same, above and below."""

    instructor: str
    graded: int
    same: int
    above: int
    below: int
    words: str


@dataclass(frozen=True, slots=True)
class AircraftFlown:
    """lost_ft: height lost in figures, of all attempts. minutes: in the air, of the flights that have them;
    without: flights that have none."""

    aircraft: str
    flights: int
    attempts: int
    lost_ft: float
    minutes: float
    without: int


@dataclass(frozen=True, slots=True)
class SchoolSeen:
    flights: int
    attempts: int
    costs: tuple[FigureCost, ...]
    beyond: tuple[Beyond, ...]
    stuck: tuple[Stuck, ...]
    graders: tuple[Grader, ...]
    aircraft: tuple[AircraftFlown, ...]


def school_seen(flights: Sequence[FlightSeen], stuck: Mapping[str, Sequence[StuckOn]]) -> SchoolSeen:
    """flights: of the time that is looked at. stuck: by student, what `stuck_on` found."""
    known = [(flight, attempt) for flight in flights for attempt in flight.attempts]
    return SchoolSeen(
        flights=sum(bool(flight.attempts) for flight in flights),
        attempts=sum(attempt.to_the_end for _, attempt in known),
        costs=_costs(known),
        beyond=tuple(sorted(_beyond(known), key=lambda b: (b.day, b.flight), reverse=True)),
        stuck=_stuck(stuck),
        graders=_graders(known),
        aircraft=_aircraft(known),
    )


def attempt_seen(
    attempt: Attempt,
    lost_ft: float | None,
    briefed_ft: float | None,
    deviation: float | None,
    standards: Standards,
) -> AttemptSeen:
    """standards: by which it would be graded."""
    beyond = []
    if attempt.taken_over_ft is not None:
        beyond.append(("taken over", f"at {attempt.taken_over_ft:,.0f} ft"))
    beyond += [(str(stop.kind), f"{stop.value:,.4g}") for stop in attempt.stops]
    if attempt.abandoned:
        beyond.append(("broken off", attempt.abandoned))
    title = attempt.planned.title
    return AttemptSeen(
        attempt.planned.key,
        attempt.to_the_end,
        lost_ft,
        briefed_ft,
        deviation,
        tuple((what, f"{title}: {words}") for what, words in beyond),
        attempt.grade is not None,
        _steps_above(attempt, lost_ft, briefed_ft, standards),
    )


def stuck_on(way: Way, flown: Sequence[Flown]) -> tuple[StuckOn, ...]:
    """flown: what this student ever flew."""
    found = []
    for task, state in zip(way.course.tasks, way.tasks, strict=True):
        if state.met or state.state == State.NOT_BEGUN:
            continue
        flights = len({f.flight for f in flown if belongs(task, f.attempt)})
        if flights >= STUCK_FLIGHTS:
            found.append(StuckOn(way.course.name, task.key, state.title, flights))
    return tuple(found)


def _by(
    known: Iterable[_Known], what: Callable[[_Known], str], counts: Callable[[AttemptSeen], bool]
) -> dict[str, list[_Known]]:
    found: dict[str, list[_Known]] = {}
    for one in known:
        if counts(one[1]):
            found.setdefault(what(one), []).append(one)
    return found


def _costs(known: Iterable[_Known]) -> tuple[FigureCost, ...]:
    """What costs most beyond the brief, all attempts together, first."""
    of = _by(known, lambda k: k[1].figure, lambda a: a.deviation is not None)
    found = [_cost(figure, its) for figure, its in of.items()]
    return tuple(sorted(found, key=lambda c: -c.all_ft))


def _cost(figure: str, its: Sequence[_Known]) -> FigureCost:
    beyond = [(a.lost_ft or 0.0) - (a.briefed_ft or 0.0) for _, a in its]
    within = sum((a.deviation or 0.0) <= IN_20 for _, a in its)
    many = len(beyond)
    # What one student flies is alike.
    middle, error = mean_and_doubt(zip((flight.student for flight, _ in its), beyond, strict=True))
    doubt = NINE_IN_TEN * error
    enough = many >= FEWEST and len({f.student for f, _ in its}) >= FEWEST_STUDENTS
    sure = enough and abs(middle) > max(doubt, 10.0)
    if not enough:
        words = "Too few to tell."
    else:
        off = f"{signed(middle)} against the brief" if sure else "As briefed, as far as can be told"
        words = f"{off}; {within} of {many} within 19 in 20"
        words += "." if within >= WITHIN * many - 1.0 else f", {math.ceil(WITHIN * many)} expected."
    return FigureCost(
        figure,
        figure_of(figure).name,
        many,
        read_off(middle, "ft"),
        read_off(middle - doubt, "ft") if enough else None,
        read_off(middle + doubt, "ft") if enough else None,
        read_off(sum(beyond), "ft"),
        within,
        sure,
        words,
    )


def _beyond(known: Iterable[_Known]) -> Iterator[Beyond]:
    for flight, attempt in known:
        for what, words in attempt.beyond:
            yield Beyond(what, words, flight.flight, flight.day, flight.student, flight.instructor)


def _stuck(stuck: Mapping[str, Sequence[StuckOn]]) -> tuple[Stuck, ...]:
    """The task that most are stuck on first."""
    found: dict[tuple[str, str], list[tuple[str, int]]] = {}
    titles: dict[tuple[str, str], str] = {}
    for student, on in stuck.items():
        for one in on:
            titles[one.course, one.task] = one.title
            found.setdefault((one.course, one.task), []).append((student, one.flights))
    made = [
        Stuck(
            course,
            task,
            titles[course, task],
            tuple(sorted(name for name, _ in on)),
            sum(flights for _, flights in on),
            f"{len(on)} in {course}, {sum(n for _, n in on) / len(on):.0f} flights each in the mean",
        )
        for (course, task), on in found.items()
    ]
    return tuple(sorted(made, key=lambda s: (-len(s.students), -s.flights, s.title)))


def _graders(known: Iterable[_Known]) -> tuple[Grader, ...]:
    of = _by(known, lambda k: k[0].instructor, lambda a: a.graded)
    found = [_grader(name, [attempt for _, attempt in its]) for name, its in of.items()]
    return tuple(sorted(found, key=lambda g: g.instructor))


def _grader(name: str, its: Iterable[AttemptSeen]) -> Grader:
    steps = [attempt.steps for attempt in its if attempt.steps is not None]
    counted = Counter((step > 0) - (step < 0) for step in steps)
    many, above, below = len(steps), counted[1], counted[-1]
    if many < FEWEST:
        words = f"{many} grades are too few to tell."
    else:
        share = round(100.0 * counted[0] / many)
        words = f"{share} of 100 as the standard comes to"
        if _one_sided(above, below):
            words += f"; otherwise mostly {'above' if above > below else 'below'} it"
        words += "."
    return Grader(name, many, counted[0], above, below, words)


def _steps_above(
    attempt: Attempt, lost_ft: float | None, briefed_ft: float | None, standards: Standards
) -> int | None:
    """Grades by which it lies above what the same notes come to; None where they come to none."""
    found = grade_by_notes(attempt, lost_ft, briefed_ft, standards)
    if attempt.grade is None or found is None:
        return None
    return GRADES.index(attempt.grade) - GRADES.index(found)


def _one_sided(above: int, below: int) -> bool:
    """Whether so few on the lesser side come by chance less than once in 20: the sign test, one side, a
    textbook result (scipy's binomial distribution)."""
    less, many = min(above, below), above + below
    return float(bdtr(less, many, 0.5)) < CHANCE


def _minutes(known: Iterable[_Known]) -> dict[int, float | None]:
    """Of each flight, whatever the number of its attempts."""
    return {flight.flight: flight.minutes for flight, _ in known}


def _aircraft(known: Iterable[_Known]) -> tuple[AircraftFlown, ...]:
    of = _by(known, lambda k: k[0].aircraft, lambda a: a.to_the_end)
    found = [
        AircraftFlown(
            name,
            len({flight.flight for flight, _ in its}),
            len(its),
            read_off(sum(attempt.lost_ft or 0.0 for _, attempt in its), "ft"),
            sum(minutes for minutes in _minutes(its).values() if minutes is not None),
            sum(minutes is None for minutes in _minutes(its).values()),
        )
        for name, its in of.items()
    ]
    return tuple(sorted(found, key=lambda a: -a.flights))
