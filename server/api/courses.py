"""Courses: read by everyone who is logged in, kept by the chief; as files in and out."""

from collections import Counter
from typing import Any

from django.http import HttpRequest
from ninja import Router, Status

from keelturn.progress.lessons import FREE, in_words
from server.api.course_schemas import CourseIn, CourseOut, CourseRead, LessonOut, VersionOut
from server.api.doors import REFUSALS, asking, seen_student
from server.api.schemas import Id
from server.school.models import CourseVersion, Enrolment
from server.school.operations import courses as operations

router = Router(tags=["courses"])


def _course(found: CourseVersion, on: Counter[tuple[str, int]]) -> CourseOut:
    course = found.document()
    students = sum(count for (key, _), count in on.items() if key == found.key)
    return CourseOut(
        key=found.key,
        version=found.version,
        by=found.by.name if found.by else None,
        at=found.at,
        students=students,
        earlier=students - on[found.key, found.version],
        titles={task.key: task.title for task in course.tasks},
        flown={lesson.key: list(in_words(course, lesson)) for lesson in course.lessons},
        course=course,
    )


def _who_is_on() -> Counter[tuple[str, int]]:
    """How many students on each version of each course. One query."""
    open_now = Enrolment.objects.filter(ended=None)
    return Counter(open_now.values_list("course__key", "course__version"))


@router.get("/courses", response={200: list[CourseOut], **REFUSALS})
def courses(request: HttpRequest) -> list[CourseOut]:
    """Those in force. Two queries."""
    asking(request)
    on = _who_is_on()
    return [_course(found, on) for found in CourseVersion.in_force()]


@router.post("/courses", response={201: CourseOut, **REFUSALS})
def add_course(request: HttpRequest, data: CourseIn) -> Status[Any]:
    made = operations.save_course(asking(request), None, 1, data.course)
    return Status(201, _course(made, _who_is_on()))


@router.put("/courses/{key}", response={200: CourseOut, **REFUSALS})
def save_course(request: HttpRequest, key: str, data: CourseIn) -> CourseOut:
    """As its next version; students stay on theirs."""
    return _course(operations.save_course(asking(request), key, data.version, data.course), _who_is_on())


@router.post("/course-files", response={200: CourseRead, **REFUSALS})
def read_course(request: HttpRequest, data: CourseIn) -> CourseRead:
    """A course from a file: whether it can be taught, and what it would change here. Nothing is stored."""
    held, differs = operations.read_course(asking(request), data.course)
    version = None if held is None else held.version
    return CourseRead(version=version, differs=list(differs), course=data.course)


@router.get("/courses/{key}/versions", response={200: list[VersionOut], **REFUSALS})
def versions(request: HttpRequest, key: str) -> list[VersionOut]:
    asking(request)
    return [
        VersionOut(version=v.version, by=v.by, at=v.at, differs=list(v.differs))
        for v in operations.versions_of(key)
    ]


@router.get("/lessons", response={200: list[LessonOut], **REFUSALS})
def lessons(request: HttpRequest, student_id: Id) -> list[LessonOut]:
    """What this student may be planned for: their own course first, then the school's, then free. Three
    queries."""
    found = operations.courses_for(seen_student(request, student_id))
    return [
        *(
            LessonOut(key=lesson.key, name=lesson.name, purpose=lesson.purpose, course=course.name)
            for course in found
            for lesson in course.lessons
        ),
        LessonOut(key=FREE.key, name=FREE.name, purpose=FREE.purpose, course=""),
    ]
