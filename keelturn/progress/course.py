"""A course as a document: what is taught, in which order, to what standard, and what must come before. The
chief's own; those that ship are in courses/ (common practice, no published source)."""

import re
from collections.abc import Iterator, Mapping, Sequence
from typing import Annotated, Literal

from pydantic import AfterValidator, model_validator

from keelturn.document import Document, Trouble, Wrong, told
from keelturn.figures.catalogue import BY_KEY, figure_of
from keelturn.figures.figure import Side, Stage
from keelturn.figures.planned import FlownBy, PlannedFigure
from keelturn.noting.earned import EARNED
from keelturn.recoveries.schools import BY_KEY as METHODS
from keelturn.school.grading import Grade

Needed = Literal["guided", "sound", "ready"]
Sides = Literal["both", "left", "right"]
SOME_HEIGHT_FT = 5000.0
ADD_IT = "Take it out, or add the task."


def _is_a_key(text: str) -> str:
    if not re.fullmatch(r"[a-z0-9][a-z0-9_]{0,39}", text):
        raise ValueError("small letters, digits and underscores only, 40 at most")
    return text


Key = Annotated[str, AfterValidator(_is_a_key)]


class CourseTask(Document):
    """One thing to be learnt. name: empty for the figure's own. side: both asks for each side by itself, and
    is what a figure without sides has. settings: the figure's own where they are not the usual ones, its
    conditions (eyes closed, flap) among them. method: None for the one that the school teaches. flown_by:
    what alone counts; None for the student's own work. within_ft: beyond the brief, what counts for more than
    guided. after: tasks that are flown with help, at least, before this one."""

    key: Key = told("Name in files")
    name: str = told("Called", "", "", max_length=60)
    figure: str = told("Figure", max_length=40)
    side: Sides = told("Side", "", "both")
    settings: dict[str, float] = told("Settings", "", {})
    method: str | None = told("Recovery method", "", None, max_length=60)
    flown_by: FlownBy | None = told("Counts only as", "", None)
    needed: Needed = told("Needed", "", "sound")
    within_ft: float | None = told("Within, beyond the brief", "ft", None, ge=0, le=5000)
    words: str = told("Standard in words", "", "", max_length=300)
    after: tuple[Key, ...] = told("After", "", (), max_length=10)

    @property
    def title(self) -> str:
        """'Two-turn spin, left', 'One-turn spin, taught back', or what the chief calls it."""
        words = [self.name or figure_of(self.figure).title(self.settings)]
        if self.flown_by is not None and not self.name:
            words.append(self.flown_by.in_short)
        return ", ".join([*words, *([] if self.side == "both" else [self.side])])

    @property
    def sides(self) -> tuple[Side, ...]:
        """Those that are asked for, each by itself; one for a figure without sides."""
        if self.side != "both":
            return (self.side,)
        return ("left", "right") if figure_of(self.figure).has_sides else ("left",)

    def troubles(self) -> Iterator[Trouble]:
        """What of it cannot be flown, and what to do."""
        if self.figure not in BY_KEY:
            yield "figure", f"there is no figure '{self.figure}'", "Choose one of the catalogue."
            return
        figure = figure_of(self.figure)
        if self.side != "both" and not figure.has_sides:
            yield "side", f"a {figure.name.lower()} has no sides", "Say both."
        if self.method is not None:
            found = METHODS.get(self.method)
            if found is None or found.situation != figure.situation or not found.taught:
                what = f"'{self.method}' is not taught for a {figure.name.lower()}"
                yield "method", what, "Choose another, or none."
        try:
            PlannedFigure(id="f", key=self.figure, start_ft=SOME_HEIGHT_FT, parameters=self.settings)
        except ValueError as error:
            wrong = next((e["ctx"]["error"] for e in error.errors() if "ctx" in e), None)  # type: ignore[attr-defined]
            for where, what, do in wrong.problems if isinstance(wrong, Wrong) else ():
                yield where.replace("parameters", "settings"), what, do


class LessonTask(Document):
    """A task in a lesson: to which side, and who flies."""

    task: Key = told("Task")
    side: Side = told("Side", "", "left")
    flown_by: FlownBy = told("Who flies", "", FlownBy.WITH_TALK)


class CourseLesson(Document):
    """ground: what is done on the ground before it, by the name of the item."""

    key: Key = told("Name in files")
    name: str = told("Name", min_length=1, max_length=80)
    purpose: str = told("Purpose", "", "", max_length=400)
    standing: Stage = told("Standing", "", "first flights")
    tasks: tuple[LessonTask, ...] = told("Figures", min_length=1, max_length=20)
    ground: tuple[Key, ...] = told("Ground before it", "", (), max_length=10)


class GroundItem(Document):
    key: Key = told("Name in files")
    words: str = told("What", min_length=2, max_length=160)
    hours: float = told("Hours", "h", 0.5, ge=0, le=100)


class Course(Document):
    """flight_h, ground_h: the least of each. Names in files are this course's own; those of lessons are the
    whole school's."""

    format: Literal["keelturn.course/1"] = "keelturn.course/1"
    key: Key = told("Name in files")
    name: str = told("Name", min_length=2, max_length=80)
    purpose: str = told("Purpose", "", "", max_length=400)
    source: str = told("Where it comes from", "", "", max_length=300)
    flight_h: float = told("Flight, at least", "h", 0.0, ge=0, le=500)
    ground_h: float = told("Ground, at least", "h", 0.0, ge=0, le=500)
    tasks: tuple[CourseTask, ...] = told("Tasks", min_length=1, max_length=100)
    ground: tuple[GroundItem, ...] = told("On the ground", "", (), max_length=60)
    lessons: tuple[CourseLesson, ...] = told("Lessons", min_length=1, max_length=60)

    @model_validator(mode="after")
    def it_can_be_taught(self) -> "Course":
        """Raises Wrong with everything that does not agree."""
        found = [
            (f"tasks[{i}].{where}", what, do)
            for i, task in enumerate(self.tasks)
            for where, what, do in task.troubles()
        ]
        found += self._names_twice()
        # What is asked of a task asks its figure.
        found += () if found else self._names_of_nothing()
        found += () if found else self._never_reached()
        if found:
            raise Wrong(*found)
        return self

    def _names_twice(self) -> Iterator[Trouble]:
        for name in ("tasks", "ground", "lessons"):
            seen: set[str] = set()
            for i, part in enumerate(getattr(self, name)):
                if part.key in seen:
                    yield f"{name}[{i}].key", f"there is another '{part.key}'", "Give each a name of its own."
                seen.add(part.key)

    def _names_of_nothing(self) -> Iterator[Trouble]:
        tasks, ground = {t.key for t in self.tasks}, {g.key for g in self.ground}
        for i, task in enumerate(self.tasks):
            for j, key in enumerate(task.after):
                if key not in tasks:
                    yield (
                        f"tasks[{i}].after[{j}]",
                        f"there is no task '{key}'",
                        "Take it out, or add the task.",
                    )
        for i, lesson in enumerate(self.lessons):
            for j, flown in enumerate(lesson.tasks):
                where = f"lessons[{i}].tasks[{j}]"
                if flown.task not in tasks:
                    yield f"{where}.task", f"there is no task '{flown.task}'", ADD_IT
                elif flown.side not in (sides := self.task(flown.task).sides):
                    yield (
                        f"{where}.side",
                        f"{self.task(flown.task).title} is not this side",
                        f"Say {sides[0]}.",
                    )
            for j, key in enumerate(lesson.ground):
                if key not in ground:
                    what = f"there is nothing on the ground called '{key}'"
                    yield f"lessons[{i}].ground[{j}]", what, "Take it out, or add the item."

    def _never_reached(self) -> Iterator[Trouble]:
        """Tasks that no lesson flies as they count, and those that wait for each other."""
        for i, task in enumerate(self.tasks):
            if not learnt_in(task, self.lessons):
                how = task.flown_by.value if task.flown_by else "the student, to each side that is asked for"
                what = f"no lesson has {task.title} flown by {how}"
                yield f"tasks[{i}]", what, "Put it into a lesson, or take the task out."
        waiting = {t.key: set(t.after) for t in self.tasks}
        while ready := [key for key, after in waiting.items() if not after & waiting.keys()]:
            for key in ready:
                del waiting[key]
        for i, task in enumerate(self.tasks):
            if task.key in waiting:
                what = f"{task.title} waits for what waits for it"
                yield f"tasks[{i}].after", what, "Take one of them out."

    def task(self, key: str) -> CourseTask:
        """Raises KeyError for one that there is not."""
        return next((t for t in self.tasks if t.key == key), None) or _none(key)

    def lesson(self, key: str) -> CourseLesson | None:
        return next((lesson for lesson in self.lessons if lesson.key == key), None)


def _none(key: str) -> CourseTask:
    raise KeyError(key)


def counts(task: CourseTask, flown_by: FlownBy) -> bool:
    """Whether an attempt flown so says anything of the student in this task."""
    return flown_by.by_student if task.flown_by is None else flown_by == task.flown_by


def learnt_in(task: CourseTask, lessons: Sequence[CourseLesson]) -> bool:
    """Whether these lessons fly the task so that it counts, to every side that it asks for."""
    sides = {
        flown.side
        for lesson in lessons
        for flown in lesson.tasks
        if flown.task == task.key and counts(task, flown.flown_by)
    }
    return sides >= set(task.sides)


NEEDS: Mapping[Needed, Grade] = {"guided": "Guided", "sound": "Sound", "ready": "Solo-ready"}


def never_earned(course: Course) -> tuple[Trouble, ...]:
    """Tasks that need more than the way in which they count can earn."""
    return tuple(
        (
            f"tasks[{i}].needed",
            f"nobody earns '{NEEDS[task.needed]}' as '{task.flown_by}'",
            "Ask for less, or let another way of flying count.",
        )
        for i, task in enumerate(course.tasks)
        if task.flown_by is not None and NEEDS[task.needed] not in EARNED[task.flown_by]
    )


def lessons_twice(course: Course, others: Sequence[Course]) -> tuple[Trouble, ...]:
    """Lessons whose name in files another course of the school has already."""
    theirs: Mapping[str, Course] = {lesson.key: other for other in others for lesson in other.lessons}
    return tuple(
        (
            f"lessons[{i}].key",
            f"{theirs[lesson.key].name} has a lesson '{lesson.key}' already",
            "Give this one another.",
        )
        for i, lesson in enumerate(course.lessons)
        if lesson.key in theirs
    )
