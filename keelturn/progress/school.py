"""The whole school seen by its chief, from what was flown and debriefed: what the proposals got wrong, what
went beyond a limit, where students get stuck, how instructors grade beside the school's standard, and what
each aircraft flew (common practice, no published source)."""

import math
from collections import Counter
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from statistics import mean

from keelturn.assess.grade import proposal_of
from keelturn.assess.loss import NOTED, LossAccount
from keelturn.figures.catalogue import figure_of
from keelturn.flying.deviations import IN_20
from keelturn.noting.attempt import Attempt
from keelturn.progress.states import Flown, State, belongs
from keelturn.progress.way import Way
from keelturn.school.grading import GRADES
from keelturn.school.standards import Standards
from keelturn.working import given, read_off, signed

# Of fewer attempts, or of fewer students, nothing is said of a figure or of an instructor.
FEWEST, FEWEST_STUDENTS = 8, 3
# Flights spent on a task without reaching what the course needs, from which somebody is stuck.
STUCK_FLIGHTS = 3
# How seldom by chance alone before grades are said to lean to one side.
CHANCE = 0.05
# Half of an interval that holds 9 times in 10, in standard errors (normal form), and what 19 in 20 allow.
NINE_IN_TEN, WITHIN = 1.645, 0.95


@dataclass(frozen=True, slots=True)
class Known:
    """One debriefed attempt with who, in what, and what it was briefed to cost (ft). deviation: as of
    flying/deviations.py, None for one that says nothing of the student. minutes: of the whole flight, None
    where nobody noted them."""

    flown: Flown
    student: str
    instructor: str
    aircraft: str
    lost_ft: float | None
    briefed_ft: float | None
    deviation: float | None
    minutes: float | None = None

    @property
    def attempt(self) -> Attempt:
        return self.flown.attempt


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


def school_seen(
    known: Sequence[Known], ways: Mapping[str, tuple[Way, Sequence[Flown]]], standards: Standards
) -> SchoolSeen:
    """known: the attempts of the time that is looked at. ways: by student, the way through their course and
    what they ever flew."""
    return SchoolSeen(
        flights=len({k.flown.flight for k in known}),
        attempts=sum(k.attempt.to_the_end for k in known),
        costs=_costs(known),
        beyond=tuple(sorted(_beyond(known), key=lambda b: (b.day, b.flight), reverse=True)),
        stuck=_stuck(ways),
        graders=_graders(known, standards),
        aircraft=_aircraft(known),
    )


def _by(
    known: Iterable[Known], what: Callable[[Known], str], counts: Callable[[Known], bool]
) -> dict[str, list[Known]]:
    found: dict[str, list[Known]] = {}
    for one in known:
        if counts(one):
            found.setdefault(what(one), []).append(one)
    return found


def _costs(known: Iterable[Known]) -> tuple[FigureCost, ...]:
    """What costs most beyond the brief, all attempts together, first."""
    of = _by(known, lambda k: k.attempt.planned.key, lambda k: k.deviation is not None)
    found = [_cost(figure, its) for figure, its in of.items()]
    return tuple(sorted(found, key=lambda c: -c.all_ft))


def _cost(figure: str, its: Sequence[Known]) -> FigureCost:
    beyond = [(k.lost_ft or 0.0) - (k.briefed_ft or 0.0) for k in its]
    within = sum((k.deviation or 0.0) <= IN_20 for k in its)
    middle, many = mean(beyond), len(beyond)
    doubt = _doubt(its, beyond, middle)
    enough = many >= FEWEST and len({k.student for k in its}) >= FEWEST_STUDENTS
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


def _doubt(its: Sequence[Known], beyond: Sequence[float], middle: float) -> float:
    """Half of the interval of the mean, 9 times in 10. What one student flies is alike: students are what is
    counted (cluster-robust variance, a textbook result)."""
    off: dict[str, float] = {}
    for k, feet in zip(its, beyond, strict=True):
        off[k.student] = off.get(k.student, 0.0) + feet - middle
    students = len(off)
    if students < 2:
        return math.inf
    together = sum(total**2 for total in off.values()) * students / (students - 1)
    return NINE_IN_TEN * math.sqrt(together) / len(beyond)


def _beyond(known: Iterable[Known]) -> Iterator[Beyond]:
    for k in known:
        said = []
        if k.attempt.taken_over_ft is not None:
            said.append(("taken over", f"at {k.attempt.taken_over_ft:,.0f} ft"))
        said += [(str(stop.kind), f"{stop.value:,.4g}") for stop in k.attempt.stops]
        if k.attempt.abandoned:
            said.append(("broken off", k.attempt.abandoned))
        for what, words in said:
            title = k.attempt.planned.title
            yield Beyond(what, f"{title}: {words}", k.flown.flight, k.flown.day, k.student, k.instructor)


def _stuck(ways: Mapping[str, tuple[Way, Sequence[Flown]]]) -> tuple[Stuck, ...]:
    """The task that most are stuck on first."""
    found: dict[tuple[str, str], list[tuple[str, int]]] = {}
    titles: dict[tuple[str, str], str] = {}
    for student, (way, flown) in ways.items():
        for task, state in zip(way.course.tasks, way.tasks, strict=True):
            if state.met or state.state == State.NOT_BEGUN:
                continue
            flights = len({f.flight for f in flown if belongs(task, f.attempt)})
            if flights >= STUCK_FLIGHTS:
                at = way.course.name, task.key
                titles[at] = state.title
                found.setdefault(at, []).append((student, flights))
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


def _graders(known: Iterable[Known], standards: Standards) -> tuple[Grader, ...]:
    of = _by(known, lambda k: k.instructor, lambda k: k.attempt.grade is not None)
    found = [_grader(name, its, standards) for name, its in of.items()]
    return tuple(sorted(found, key=lambda g: g.instructor))


def _grader(name: str, its: Iterable[Known], standards: Standards) -> Grader:
    steps = [step for k in its if (step := _steps_above(k, standards)) is not None]
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


def _steps_above(known: Known, standards: Standards) -> int | None:
    """Grades by which it lies above what the same notes come to; None where they come to none."""
    attempt = known.attempt
    briefed = None
    if known.lost_ft is not None and known.briefed_ft is not None:
        planned = given("As briefed", known.briefed_ft, "ft", NOTED)
        briefed = LossAccount(planned, given("Flown", known.lost_ft, "ft", NOTED), ())
    found = proposal_of(attempt, attempt.planned, briefed, None, standards)
    if found is None or found.grade is None or attempt.grade is None:
        return None
    return GRADES.index(attempt.grade) - GRADES.index(found.grade)


def _one_sided(above: int, below: int) -> bool:
    """Whether so few on the lesser side come by chance less than once in 20: the sign test, one side, a
    textbook result, exact."""
    less, many = min(above, below), above + below
    by_chance = sum(math.comb(many, k) for k in range(less + 1)) / float(2**many)
    return by_chance < CHANCE


def _minutes(known: Iterable[Known]) -> dict[int, float | None]:
    """Of each flight, whatever the number of its attempts."""
    return {k.flown.flight: k.minutes for k in known}


def _aircraft(known: Iterable[Known]) -> tuple[AircraftFlown, ...]:
    of = _by(known, lambda k: k.aircraft, lambda k: k.attempt.to_the_end)
    found = [
        AircraftFlown(
            name,
            len({k.flown.flight for k in its}),
            len(its),
            read_off(sum(k.lost_ft or 0.0 for k in its), "ft"),
            sum(minutes for minutes in _minutes(its).values() if minutes is not None),
            sum(minutes is None for minutes in _minutes(its).values()),
        )
        for name, its in of.items()
    ]
    return tuple(sorted(found, key=lambda a: -a.flights))
