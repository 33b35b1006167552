"""A student's way through a course: every task's state, what is missing on the ground, and the standing that
follows (common practice, no published source)."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from typing import get_args

from keelturn.figures.figure import Stage
from keelturn.progress.course import Course, CourseLesson, counts, learnt_in
from keelturn.progress.states import Flown, State, TaskState, at_least, belongs, days_shown, lesser, state_of
from keelturn.school.standards import Standards

STANDINGS: tuple[Stage, ...] = get_args(Stage)
# A task comes after another that is flown with help, to the end, at least.
BEFORE = State.GUIDED
# How often a standing can fall before it is the first again, every task by itself.
MOST_FALLS = 400


@dataclass(frozen=True, slots=True)
class Way:
    """tasks: in the order of the course. ground: what was done on the ground, by the name of the item."""

    course: Course
    tasks: tuple[TaskState, ...]
    ground: frozenset[str]

    def state(self, task: str) -> TaskState:
        return next(t for t in self.tasks if t.task == task)

    def away_from(self, standards: Standards) -> date | None:
        """The day on which nothing of the course has been flown for so long; None where nothing was, or
        nothing lapses."""
        last = max((t.last_flown for t in self.tasks if t.last_flown is not None), default=None)
        days = round(standards.lapse_days.value)
        return None if last is None or days < 1 else last + timedelta(days=days)

    @property
    def met(self) -> bool:
        return all(t.met for t in self.tasks) and not self.ground_missing

    @property
    def ground_done_h(self) -> float:
        return sum(item.hours for item in self.course.ground if item.key in self.ground)

    @property
    def ground_missing(self) -> tuple[str, ...]:
        return tuple(item.words for item in self.course.ground if item.key not in self.ground)

    def missing_for(self, lesson: CourseLesson, standing: Stage) -> tuple[str, ...]:
        """What must come before the lesson, in words; empty when it may be flown."""
        level = () if reaches(standing, lesson) else (f"the standing '{lesson.standing}', now '{standing}'",)
        ground = (f"on the ground: {words}" for words in self.ground_before(lesson))
        return (*level, *ground, *self.tasks_before(lesson))

    def ground_before(self, lesson: CourseLesson) -> tuple[str, ...]:
        """What is not done on the ground and must be."""
        words = {item.key: item.words for item in self.course.ground}
        return tuple(words[key] for key in lesson.ground if key not in self.ground)

    def tasks_before(self, lesson: CourseLesson) -> tuple[str, ...]:
        """The tasks that are not far enough for the lesson's, in words."""
        found, before = dict[str, None](), set[str]()
        for flown in lesson.tasks:
            task = self.course.task(flown.task)
            # What the instructor shows waits for nothing, and nothing follows it.
            if not counts(task, flown.flown_by):
                continue
            for key in task.after:
                if key not in before and not at_least((held := self.state(key)).state, BEFORE):
                    found[f"{held.title} at '{BEFORE}', now '{held.state}'"] = None
            before.add(flown.task)
        return tuple(found)


def reaches(standing: Stage, lesson: CourseLesson) -> bool:
    return STANDINGS.index(standing) >= STANDINGS.index(lesson.standing)


def way_through(
    course: Course, flown: Sequence[Flown], ground: Sequence[str], today: date, standards: Standards
) -> Way:
    """flown: every debriefed attempt of the student, oldest first, of this course or not. What comes after a
    task keeps it from lapsing: who spins well has stalled."""
    return _way_through(course, _by_task(course, flown), ground, today, standards)


def _by_task(course: Course, flown: Sequence[Flown]) -> dict[str, list[Flown]]:
    return {task.key: [f for f in flown if belongs(task, f.attempt)] for task in course.tasks}


def _way_through(
    course: Course,
    flown: Mapping[str, Sequence[Flown]],
    ground: Sequence[str],
    today: date,
    standards: Standards,
) -> Way:
    """flown: by the key of the task."""
    shown_on = {task.key: days_shown(BEFORE, task, flown[task.key]) for task in course.tasks}
    states = tuple(
        state_of(
            task,
            flown[task.key],
            today,
            standards,
            kept_on=max(
                (day for key in _that_follow(course, task.key) for day in shown_on[key]), default=None
            ),
        )
        for task in course.tasks
    )
    return Way(course, states, frozenset(ground))


def _that_follow(course: Course, key: str) -> set[str]:
    """The tasks that come after this one, and those that come after them."""
    found: set[str] = set()
    ahead = [key]
    while ahead:
        before = ahead.pop()
        follow = {t.key for t in course.tasks if before in t.after} - found
        found |= follow
        ahead += follow
    return found


@dataclass(frozen=True, slots=True)
class StandingFollows:
    """The standing that follows from a course, with why, and what is missing for the next."""

    standing: Stage
    why: str
    missing: tuple[str, ...] = ()


def standing_in(way: Way, today: date, standards: Standards) -> StandingFollows:
    """The first until every task of the lessons that it may fly has been as the course needs it, sound at
    most, and when nothing of the course was flown for the school's days; the last when every task of the
    course is as needed today. A course that begins further on shows with its first lessons that its student
    belongs there."""
    lessons, name = way.course.lessons, way.course.name
    begins = min(STANDINGS.index(lesson.standing) for lesson in lessons)
    away = way.away_from(standards)
    if away is not None and today >= away:
        last = away - timedelta(days=round(standards.lapse_days.value))
        return StandingFollows(STANDINGS[0], f"{name}: nothing flown since {last:%-d %b %Y}")
    for at, standing in enumerate(STANDINGS[:-1]):
        whole = at == len(STANDINGS) - 2
        open_to = [x for x in lessons if whole or STANDINGS.index(x.standing) <= max(at, begins)]
        asked = {task.key for task in way.course.tasks if learnt_in(task, open_to)}
        missing = [words for t in way.tasks if t.task in asked and (words := _lacks(t, whole)) is not None]
        if missing:
            why = f"{name}: {_counted(len(missing))} for '{STANDINGS[at + 1]}'"
            return StandingFollows(standing, why, tuple(missing))
    return StandingFollows(STANDINGS[-1], f"{name}: every task is as the course needs it")


def _lacks(task: TaskState, whole: bool) -> str | None:
    """What the task lacks: of the whole course as it is today, before that as it has been."""
    held, needed = (task.state, task.needed) if whole else (task.has_been, lesser(task.needed, State.SOUND))
    return None if at_least(held, needed) else f"{task.title}: {held}, needed {needed}"


def _counted(count: int) -> str:
    return "1 task missing" if count == 1 else f"{count} tasks missing"


def highest(found: Sequence[StandingFollows]) -> StandingFollows:
    """Of several courses the one that brought the student furthest, the latest of equals; the first standing
    where there is none."""
    if not found:
        return StandingFollows(STANDINGS[0], "in no course yet")
    return max(reversed(found), key=lambda one: STANDINGS.index(one.standing))


def standings_ahead(
    courses: Sequence[Course], flown: Sequence[Flown], today: date, standards: Standards
) -> tuple[tuple[date, StandingFollows], ...]:
    """The standing from today on, and from each later day on which it falls if nothing more is flown."""
    found: list[tuple[date, StandingFollows]] = []
    day = today
    # What belongs to which task is the same on every day.
    by_task = [_by_task(course, flown) for course in courses]
    for _ in range(MOST_FALLS):
        ways = [
            _way_through(course, its, (), day, standards)
            for course, its in zip(courses, by_task, strict=True)
        ]
        standing = highest([standing_in(way, day, standards) for way in ways])
        if not found or found[-1][1].standing != standing.standing:
            found.append((day, standing))
        falls = [t.lapses_on for way in ways for t in way.tasks if t.lapses_on is not None]
        falls += [away for way in ways if (away := way.away_from(standards)) is not None and away > day]
        if standing.standing == STANDINGS[0] or not falls:
            break
        day = min(falls)
    return tuple(found)
