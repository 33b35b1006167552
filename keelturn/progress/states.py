"""How far a student is in one task, from what was flown: the rules are one table, and each state has its
reasons and what is missing for the next (common practice, no published source)."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date, timedelta
from enum import StrEnum
from itertools import groupby

from keelturn.figures.catalogue import figure_of
from keelturn.figures.figure import Family, Side, fault_of
from keelturn.figures.planned import FlownBy
from keelturn.noting.attempt import Attempt, Outcome
from keelturn.noting.earned import shown_by
from keelturn.progress.course import CourseTask, counts
from keelturn.school.grading import GRADES, Grade
from keelturn.school.standards import FigureStandard, Standards

# A setting is a task's own up to this share of what it can be.
NEAR = 0.1


class State(StrEnum):
    """In this order."""

    NOT_BEGUN = "not begun"
    BEGUN = "begun"
    GUIDED = "guided"
    SOUND = "sound"
    READY = "ready"


STATES = tuple(State)


def lesser(state: State, other: State) -> State:
    return min(state, other, key=STATES.index)


def at_least(state: State, other: State) -> bool:
    return STATES.index(state) >= STATES.index(other)


@dataclass(frozen=True, slots=True)
class Flown:
    """One attempt. flight: of which; beyond_ft: lost beyond the brief, None where one of the two is not
    known; debriefed: whether its flight is, and it counts toward a state. corrected: what of it was corrected
    after signing, in words. standard: the grade that counts while the instructor gives no reason for
    another, None where theirs does (assess/grade.py)."""

    attempt: Attempt
    day: date
    flight: int
    lesson: str = ""
    beyond_ft: float | None = None
    debriefed: bool = True
    corrected: tuple[str, ...] = ()
    standard: Grade | None = None


def by_flight(flown: Sequence[Flown]) -> list[list[Attempt]]:
    """The attempts, flight by flight, in the order given."""
    return [[f.attempt for f in group] for _, group in groupby(flown, key=lambda f: f.flight)]


@dataclass(frozen=True, slots=True)
class Rule:
    """What a state asks of each side: so many attempts that show at least the grade, in so many flights, so
    many of them alone; and of the last flight in which it was flown its best, and that nothing stays
    open."""

    state: State
    grade: Grade
    attempts: int
    flights: int = 1
    alone: int = 0
    last_best: Grade | None = None
    nothing_open: bool = False


RULES: tuple[Rule, ...] = (
    Rule(State.GUIDED, "Guided", attempts=1),
    Rule(State.SOUND, "Sound", attempts=1, last_best="Sound"),
    Rule(
        State.READY, "Solo-ready", attempts=2, flights=2, alone=2, last_best="Solo-ready", nothing_open=True
    ),
)
# What has lapsed falls no further: help is what it then needs, not a beginning.
LAPSES_TO = State.GUIDED
# What shows no more than this was lost beyond the task's own limit.
BEYOND_SHOWS: Grade = "Guided"


@dataclass(frozen=True, slots=True)
class TaskState:
    """state: today, what has lapsed taken off; reached: without that; has_been: whatever the last flight
    showed; sides: that of each side. reasons: why it is this; missing: for the next state, empty at the last.
    lapses_on: the day on which it falls by one, None for what cannot. met: whether it is what the course
    needs."""

    task: str
    title: str
    family: Family
    state: State
    reached: State
    has_been: State
    needed: State
    reasons: tuple[str, ...]
    missing: tuple[str, ...]
    sides: Mapping[Side, State] = field(default_factory=dict)
    lapses_on: date | None = None
    last_flown: date | None = None

    @property
    def met(self) -> bool:
        return at_least(self.state, self.needed)

    @property
    def lapsed(self) -> bool:
        return self.state != self.reached


def belongs(task: CourseTask, attempt: Attempt) -> bool:
    """Whether the attempt is at this task, to any of its sides: the figure, its settings, its method, and for
    a task that counts only as flown in one way, in that way."""
    planned = attempt.planned
    if planned.key != task.figure or attempt.skipped:
        return False
    figure = figure_of(task.figure)
    if task.flown_by is not None and attempt.flown_by != task.flown_by:
        return False
    if figure.has_sides and planned.side not in task.sides:
        return False
    if task.method is not None and planned.school not in (None, task.method):
        return False
    return all(_near(task, name, planned.parameter(name)) for name in task.settings)


def _near(task: CourseTask, name: str, value: float) -> bool:
    asked, can = task.settings[name], figure_of(task.figure).parameters[name]
    return value == asked if can.switch else abs(value - asked) <= NEAR * (can.most - can.least)


def counted_grade(flown: Flown) -> Grade | None:
    """The grade that counts: the one by the school's standard, whoever graded it, where there is one and the
    instructor gave no reason for another."""
    attempt = flown.attempt
    found = shown_by(attempt)
    if found is None or flown.standard is None or attempt.grade_reason.strip():
        return found
    return flown.standard


def shows(task: CourseTask, flown: Flown) -> Grade | None:
    """The standard that an attempt shows in this task."""
    found = counted_grade(flown)
    if found is None or not counts(task, flown.attempt.flown_by):
        return None
    if task.within_ft is not None and flown.beyond_ft is not None and flown.beyond_ft > task.within_ft:
        return min(found, BEYOND_SHOWS, key=GRADES.index)
    return found


def days_shown(state: State, task: CourseTask, flown: Sequence[Flown]) -> list[date]:
    """On which days the grade of this state was shown in the task."""
    grade = next(rule.grade for rule in RULES if rule.state == state)
    return [f.day for f in _that_show(grade, task, [f for f in flown if belongs(task, f.attempt)])]


def state_of(
    task: CourseTask,
    flown: Sequence[Flown],
    today: date,
    standards: Standards,
    kept_on: date | None = None,
) -> TaskState:
    """flown: everything, oldest first; what is not of this task does not count. The lesser side is the
    task's. kept_on: when something was shown that this task is a part of: it lapses from there."""
    mine = [f for f in flown if belongs(task, f.attempt)]
    asked = standards.figure(task.figure)
    sided = figure_of(task.figure).has_sides and len(task.sides) > 1
    found = [
        (side, _of_one_side(task, [f for f in mine if not sided or f.attempt.planned.side == side], asked))
        for side in task.sides
    ]
    # A side that nobody began holds a task back, but it is begun when the other is.
    side, least = min(found, key=lambda pair: STATES.index(pair[1].state))
    reached = least.state if least.state != State.NOT_BEGUN or not mine else State.BEGUN
    of_side = f"{side.capitalize()}: " if sided else ""
    shown = [one.shown_on for _, one in found if one.shown_on is not None]
    since = max(min(shown), kept_on or min(shown)) if shown else None
    fallen, lapses_on = _lapse(since, reached, today, standards.lapse_days.value)
    state = STATES[STATES.index(reached) - fallen]
    missing = tuple(f"{of_side}{words}" for words in least.missing)
    reasons = _reasons(sided, found)
    if fallen:
        reasons += (f"lapsed: not shown since {since:%-d %b %Y}",)
        missing = (f"one flight that shows '{reached}' again", *missing)
    return TaskState(
        task=task.key,
        title=task.title,
        family=figure_of(task.figure).family,
        state=state,
        reached=reached,
        has_been=min((one.has_been for _, one in found), key=STATES.index),
        needed=State(task.needed),
        reasons=reasons,
        missing=missing,
        sides={side: one.state for side, one in found},
        lapses_on=lapses_on,
        last_flown=mine[-1].day if mine else None,
    )


@dataclass(frozen=True, slots=True)
class _Side:
    """shown_on: the last day on which its state's grade was shown. has_been: as if the last flight asked for
    nothing."""

    state: State
    reason: str
    missing: tuple[str, ...]
    shown_on: date | None
    has_been: State


def _of_one_side(task: CourseTask, flown: Sequence[Flown], asked: FigureStandard) -> _Side:
    if not flown:
        return _Side(State.NOT_BEGUN, "not flown yet", ("fly it",), None, State.NOT_BEGUN)
    ever = [replace(rule, last_best=None, nothing_open=False) for rule in RULES]
    has_been = _climbed(ever, task, flown, asked)[0]
    state, shown_on, missing = _climbed(RULES, task, flown, asked)
    return _Side(state, _said(task, flown), missing, shown_on, has_been)


def _climbed(
    rules: Sequence[Rule], task: CourseTask, flown: Sequence[Flown], asked: FigureStandard
) -> tuple[State, date | None, tuple[str, ...]]:
    """The last state of which nothing is missing, when its grade was shown last, what the next one lacks."""
    state, shown_on = State.BEGUN, None
    for rule in rules:
        missing = tuple(_lacks(rule, task, flown, asked))
        if missing:
            return state, shown_on, missing
        state, shown_on = rule.state, max(f.day for f in _that_show(rule.grade, task, flown))
    return state, shown_on, ()


def _that_show(grade: Grade, task: CourseTask, flown: Sequence[Flown]) -> list[Flown]:
    least = GRADES.index(grade)
    return [f for f in flown if (shown := shows(task, f)) is not None and GRADES.index(shown) >= least]


def _lacks(rule: Rule, task: CourseTask, flown: Sequence[Flown], asked: FigureStandard) -> Iterator[str]:
    good = _that_show(rule.grade, task, flown)
    alone = [f for f in good if f.attempt.flown_by == FlownBy.ALONE]
    least = f"at '{rule.grade}'" + (" or better" if rule.grade != GRADES[-1] else "")
    if len(good) < rule.attempts:
        yield f"{len(good)} of {_counted(rule.attempts, 'attempt')} {least}"
    elif len({f.flight for f in good}) < rule.flights:
        yield f"{least[3:]} in {rule.flights} flights, so far in one"
    if rule.alone > len(alone) and task.flown_by is None and len(good) >= rule.attempts:
        yield f"{len(alone)} of {rule.alone} flown alone"
    last = last_flight(_that_count(task, flown))
    best = max((GRADES.index(s) for f in last if (s := shows(task, f)) is not None), default=-1)
    if rule.last_best is not None and best < GRADES.index(rule.last_best) and len(good) >= rule.attempts:
        yield f"the last flight showed {GRADES[best] if best >= 0 else 'nothing that counts'}"
    yield from _blocked(rule.grade, task, flown, asked)
    if rule.nothing_open:
        yield from still_open(task, flown)


def _blocked(grade: Grade, task: CourseTask, flown: Sequence[Flown], asked: FigureStandard) -> Iterator[str]:
    """Dangerous faults that were noted in the last attempts at the task and keep from this grade, whatever
    height they cost."""
    ended = [f.attempt for f in _that_count(task, flown) if f.attempt.to_the_end]
    for fault in figure_of(task.figure).faults:
        blocks = asked.blocks(fault)
        if blocks is None or GRADES.index(grade) < GRADES.index(blocks.grade):
            continue
        if any(fault.key in attempt.faults for attempt in ended[-blocks.clean_attempts :]):
            yield f"{_counted(blocks.clean_attempts, 'attempt')} without '{fault.words.lower()}'"


def _that_count(task: CourseTask, flown: Sequence[Flown]) -> list[Flown]:
    return [f for f in flown if counts(task, f.attempt.flown_by)]


def last_flight(flown: Sequence[Flown]) -> Sequence[Flown]:
    """Those of the last flight, oldest first in."""
    return [f for f in flown if f.flight == flown[-1].flight] if flown else []


def still_open(task: CourseTask, flown: Sequence[Flown]) -> tuple[str, ...]:
    """What the last flight left open, in words: each fault that was noted, a take-over, what it became."""
    found: dict[str, None] = {}
    for each in last_flight(_that_count(task, flown)):
        attempt = each.attempt
        for key in attempt.faults:
            if (fault := fault_of(figure_of(task.figure), key)) is not None:
                found[f"still open: {fault.words.lower()}"] = None
        if attempt.taken_over_ft is not None:
            found["still open: the instructor took over"] = None
        if attempt.outcome not in (None, Outcome.AS_INTENDED):
            found[f"still open: {attempt.outcome}"] = None
    return tuple(found)


def _lapse(since: date | None, reached: State, today: date, lapse_days: float) -> tuple[int, date | None]:
    """By how many states it has fallen, and when it falls next: by one each time that the school's days have
    gone by. since: when the side that was shown longest ago was shown."""
    days, most = round(lapse_days), STATES.index(reached) - STATES.index(LAPSES_TO)
    if since is None or days < 1 or most < 1:
        return 0, None
    fallen = min(max(0, (today - since).days // days), most)
    return fallen, since + timedelta(days=days * (fallen + 1)) if fallen < most else None


def _reasons(sided: bool, found: Sequence[tuple[Side, _Side]]) -> tuple[str, ...]:
    if not sided:
        return (found[0][1].reason,)
    return tuple(f"{side}: {one.state}, {one.reason}" for side, one in found)


def _said(task: CourseTask, flown: Sequence[Flown]) -> str:
    """'4 attempts in 2 flights, the last Sound'."""
    flights = len({f.flight for f in flown})
    graded = [shown for f in flown if (shown := shows(task, f)) is not None]
    last = f", the last that counts {graded[-1]}" if graded else ", none that counts"
    final = flown[-1]
    otherwise = counted_grade(final) != shown_by(final.attempt)
    graded_as = f" (graded {final.attempt.grade}, without a reason)" if otherwise else ""
    return f"{_counted(len(flown), 'attempt')} in {_counted(flights, 'flight')}{last}{graded_as}"


def _counted(count: int, word: str) -> str:
    return f"{count} {word}{'' if count == 1 else 's'}"


How = str


@dataclass(frozen=True, slots=True)
class FlightMark:
    """One flight of a task, for the picture of the way: how it was flown at most (shown, with talk, alone),
    the best that it showed, and the height lost beyond the brief, mean of those that have one."""

    flight: int
    day: date
    how: How
    shown: Grade | None
    beyond_ft: float | None
    attempts: int
    open: tuple[str, ...]


HOW: Mapping[FlownBy, How] = {
    FlownBy.SHOWN: "shown",
    FlownBy.FOLLOWS: "shown",
    FlownBy.TALKS: "with talk",
    FlownBy.WITH_TALK: "with talk",
    FlownBy.AGAINST: "alone",
    FlownBy.ALONE: "alone",
}
HOWS: tuple[How, ...] = ("shown", "with talk", "alone")


def marks_of(task: CourseTask, flown: Sequence[Flown]) -> tuple[FlightMark, ...]:
    """Flight by flight, oldest first. Only what the student flew has a height beyond the brief."""
    mine = [f for f in flown if belongs(task, f.attempt)]
    return tuple(_mark(task, list(group)) for _, group in groupby(mine, key=lambda f: f.flight))


def _mark(task: CourseTask, flown: Sequence[Flown]) -> FlightMark:
    beyond = [f.beyond_ft for f in flown if f.beyond_ft is not None and counts(task, f.attempt.flown_by)]
    graded = [shown for f in flown if (shown := shows(task, f)) is not None]
    return FlightMark(
        flight=flown[0].flight,
        day=flown[0].day,
        how=max((HOW[f.attempt.flown_by] for f in flown), key=HOWS.index),
        shown=max(graded, key=GRADES.index, default=None),
        beyond_ft=sum(beyond) / len(beyond) if beyond else None,
        attempts=len(flown),
        open=still_open(task, flown),
    )
