"""A lesson of a course with its tasks filled in: the figures that it flies, and how they are laid out in a
plan."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from keelturn.figures.figure import Side, Stage
from keelturn.figures.planned import FlownBy, PlannedFigure
from keelturn.progress.course import Course, CourseLesson
from keelturn.progress.courses import COURSES


@dataclass(frozen=True, slots=True)
class LessonFigure:
    """settings: the figure's own, by name, where they are not the usual ones. method: None for the school's.
    task: of the course."""

    key: str
    side: Side = "left"
    flown_by: FlownBy = FlownBy.WITH_TALK
    settings: Mapping[str, float] = field(default_factory=dict)
    method: str | None = None
    task: str = ""


@dataclass(frozen=True, slots=True)
class Lesson:
    key: str
    name: str
    purpose: str
    figures: tuple[LessonFigure, ...]
    standing: Stage = "first flights"


FREE = Lesson("free", "Free", "Figures as the instructor chooses.", ())


def filled_in(course: Course, lesson: CourseLesson) -> Lesson:
    figures = []
    for flown in lesson.tasks:
        task = course.task(flown.task)
        figures.append(
            LessonFigure(task.figure, flown.side, flown.flown_by, task.settings, task.method, task.key)
        )
    return Lesson(lesson.key, lesson.name, lesson.purpose, tuple(figures), lesson.standing)


def in_words(course: Course, lesson: CourseLesson) -> tuple[str, ...]:
    """'Steep turn 60°, left: with talk', figure by figure."""
    found = []
    for flown in lesson.tasks:
        task = course.task(flown.task)
        side = f", {flown.side}" if len(task.sides) > 1 else ""
        short = "" if task.flown_by is not None and not task.name else f": {flown.flown_by.in_short}"
        found.append(f"{task.title}{side}{short}")
    return tuple(found)


def lessons_of(*courses: Course) -> tuple[Lesson, ...]:
    """In the order of the courses and of each."""
    return tuple(filled_in(course, lesson) for course in courses for lesson in course.lessons)


def lesson_of(key: str, courses: Sequence[Course] = COURSES) -> Lesson:
    """The first of these courses that has it. Raises ValueError naming the lessons there are."""
    if key == FREE.key:
        return FREE
    for course in courses:
        if (lesson := course.lesson(key)) is not None:
            return filled_in(course, lesson)
    there = (*(lesson.key for course in courses for lesson in course.lessons), FREE.key)
    raise ValueError(f"no lesson '{key}'; there is {', '.join(there)}")


def name_of(key: str) -> str:
    """What a lesson that ships is called; the key itself for another."""
    names = {lesson.key: lesson.name for course in COURSES for lesson in course.lessons}
    return {**names, FREE.key: FREE.name}.get(key, key)


def laid_out(lesson: Lesson, start_ft: float) -> tuple[PlannedFigure, ...]:
    """The lesson's figures, all from one height until the heights are computed. Entry speeds are left to what
    each figure asks of the aircraft that day."""
    return tuple(
        PlannedFigure(
            id=f"f{i}",
            key=figure.key,
            side=figure.side,
            start_ft=start_ft,
            flown_by=figure.flown_by,
            parameters=dict(figure.settings),
            school=figure.method,
        )
        for i, figure in enumerate(lesson.figures, start=1)
    )
