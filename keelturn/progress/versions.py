"""What differs between two versions of a course, in words, and what moving to the later one does to a
student."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any, Literal

from keelturn.document import Document
from keelturn.progress.course import Course, CourseTask
from keelturn.progress.states import Flown, State, TaskState
from keelturn.progress.way import way_through
from keelturn.school.standards import Standards

Kind = Literal["added", "taken out", "changed"]
PARTS = (("tasks", "Task"), ("lessons", "Lesson"), ("ground", "On the ground"))


@dataclass(frozen=True, slots=True)
class Differs:
    """One thing of a course that is not as it was: which, how, and the values before and after in words;
    empty for what was added or taken out whole."""

    kind: Kind
    what: str
    before: str = ""
    after: str = ""


def differences(before: Course, after: Course) -> tuple[Differs, ...]:
    """In the order of the later one: the course itself, tasks, lessons, ground; what was taken out last in
    its part."""
    found = [*_fields_differ("Course", before, after, {"tasks", "lessons", "ground", "key", "format"})]
    for name, label in PARTS:
        was = {part.key: part for part in getattr(before, name)}
        now = {part.key: part for part in getattr(after, name)}
        for key, part in now.items():
            what = f"{label}: {_title(part)}"
            if key not in was:
                found.append(Differs("added", what))
            elif was[key] != part:
                found += _fields_differ(what, was[key], part, {"key"}, (before, after))
        found += [Differs("taken out", f"{label}: {_title(was[key])}") for key in was if key not in now]
        if [k for k in was if k in now] != [k for k in now if k in was]:
            found.append(
                Differs("changed", f"{label}: the order", _order(was.values()), _order(now.values()))
            )
    return tuple(found)


def _title(part: Any) -> str:
    return str(getattr(part, "title", None) or getattr(part, "name", None) or part.words)


def _order(parts: Any) -> str:
    return ", ".join(_title(part) for part in parts)


def _fields_differ(
    what: str,
    before: Document,
    after: Document,
    without: set[str],
    courses: tuple[Course, Course] | None = None,
) -> Iterator[Differs]:
    for name, field in type(after).model_fields.items():
        was, now = getattr(before, name), getattr(after, name)
        if name in without or was == now:
            continue
        earlier, later = courses or (None, None)
        label = (field.title or name).lower()
        yield Differs("changed", f"{what}, {label}", _in_words(was, earlier), _in_words(now, later))


def _in_words(value: Any, course: Course | None) -> str:
    if value is None or value == "" or value == () or value == {}:
        return "none"
    if isinstance(value, dict):
        return ", ".join(f"{name.replace('_', ' ')} {number:g}" for name, number in value.items())
    if isinstance(value, tuple):
        return ", ".join(_in_words(part, course) for part in value)
    if isinstance(value, Document):
        title = course.task(value.task).title if course is not None else value.task  # type: ignore[attr-defined]
        return f"{title}, {value.side} ({value.flown_by})"  # type: ignore[attr-defined]
    return f"{value:g}" if isinstance(value, float) else str(value)


@dataclass(frozen=True, slots=True)
class Moves:
    """What becomes of one task for a student who is moved: its state in each version; None where that version
    does not have it."""

    title: str
    before: State | None
    after: State | None
    needed: State | None


def moved(
    before: Course, after: Course, flown: Sequence[Flown], today: date, standards: Standards
) -> tuple[Moves, ...]:
    """Only what changes for the student: a task that comes or goes, or whose state or need is another."""

    def states(course: Course) -> dict[str, TaskState]:
        return {state.task: state for state in way_through(course, flown, (), today, standards).tasks}

    was, now = states(before), states(after)
    titles: dict[str, CourseTask] = {t.key: t for t in (*before.tasks, *after.tasks)}
    return tuple(
        Moves(
            task.title,
            was[key].state if key in was else None,
            now[key].state if key in now else None,
            now[key].needed if key in now else None,
        )
        for key, task in titles.items()
        if key not in was
        or key not in now
        or (was[key].state, was[key].needed) != (now[key].state, now[key].needed)
    )
