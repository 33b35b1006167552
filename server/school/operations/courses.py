"""The courses of the school: kept by the chief version by version, and the lessons that a sortie can fly."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from django.db import transaction

from keelturn.formats.reading import Problem, Refused, refused
from keelturn.progress.course import Course, lessons_twice, never_earned
from keelturn.progress.lessons import Lesson, lesson_of
from keelturn.progress.versions import Differs, differences
from server.school.models import CourseVersion, Person, Student
from server.school.operations.comparing import same_version
from server.school.permissions import require_chief


def course_in_force(key: str) -> CourseVersion:
    """One query. Raises Refused."""
    found = next((held for held in CourseVersion.in_force() if held.key == key), None)
    if found is None:
        raise refused("course", f"there is no course '{key}'", "Choose one of the school's.")
    return found


def save_course(person: Person, key: str | None, version: int, course: Course) -> CourseVersion:
    """The next version of one, or a new one where no key is given. What is as it was makes no version. Raises
    Denied, Refused."""
    require_chief(person, "courses")
    with transaction.atomic():
        school = CourseVersion.in_force()
        held = next((found for found in school if found.key == (key or course.key)), None)
        _require_right_name(key, course, held)
        _require_it_can_be_stored(course, school)
        kept = course.model_dump(mode="json")
        if held is None:
            return CourseVersion.objects.create(key=course.key, course=kept, by=person)
        same_version(held.version, version)
        if held.course == kept:
            return held
        return CourseVersion.objects.create(key=held.key, version=held.version + 1, course=kept, by=person)


def read_course(person: Person, course: Course) -> tuple[CourseVersion | None, tuple[Differs, ...]]:
    """The course here by the same name in files, and what differs from it. One query. Raises Denied,
    Refused."""
    require_chief(person, "courses")
    school = CourseVersion.in_force()
    held = next((found for found in school if found.key == course.key), None)
    _require_it_can_be_stored(course, school)
    return held, () if held is None else differences(held.document(), course)


def _require_it_can_be_stored(course: Course, school: Sequence[CourseVersion]) -> None:
    """Raises Refused where another course has a lesson of the same name in files, and where a task needs what
    nobody can earn."""
    others = [found.document() for found in school if found.key != course.key]
    if wrong := (*lessons_twice(course, others), *never_earned(course)):
        raise Refused([Problem(f"course.{where}", what, do) for where, what, do in wrong])


def _require_right_name(key: str | None, course: Course, held: CourseVersion | None) -> None:
    """Raises Refused."""
    if key is None and held is not None:
        raise refused(
            "course.key",
            f"the school has a course '{course.key}' already ({held.document().name})",
            "Give it another name in files, or store it as the next version of that one.",
        )
    if key is not None and held is None:
        raise refused("course", f"there is no course '{key}'", "Add it as a new one.")
    if key is not None and course.key != key:
        raise refused("course.key", f"this is the course '{key}'", "Its name in files does not change.")


@dataclass(frozen=True)
class VersionKept:
    """One version of a course: by whom, when, and what differs from the one before; by is None and nothing
    differs for what shipped."""

    version: int
    by: str | None
    at: datetime
    differs: tuple[Differs, ...]


def versions_of(key: str) -> list[VersionKept]:
    """The latest first. One query. Raises Refused."""
    rows = list(CourseVersion.objects.filter(key=key).select_related("by").order_by("version"))
    if not rows:
        raise refused("course", f"there is no course '{key}'", "Choose one of the school's.")
    documents = [row.document() for row in rows]
    found = [
        VersionKept(
            row.version,
            row.by.name if row.by else None,
            row.at,
            differences(documents[i - 1], documents[i]) if i else (),
        )
        for i, row in enumerate(rows)
    ]
    return found[::-1]


def courses_for(student: Student) -> list[Course]:
    """Where a lesson for this student is looked for: the version that they are on, then the school's. Two
    queries."""
    on = student.enrolments.filter(ended=None).select_related("course").first()
    school = CourseVersion.in_force()
    if on is None:
        return [found.document() for found in school]
    return [on.course.document(), *(found.document() for found in school if found.key != on.course.key)]


def lesson_for(key: str, courses: Sequence[Course], where: str = "lesson") -> Lesson:
    """Raises Refused for a lesson that none of these has."""
    try:
        return lesson_of(key, courses)
    except ValueError as error:
        raise refused(where, str(error), "Choose a lesson of the school's courses.") from error
