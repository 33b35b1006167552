"""What the API takes and gives of courses."""

from pydantic import Field

from keelturn.document import Moment
from keelturn.progress.course import Course
from keelturn.progress.versions import Differs
from server.api.schema import Schema
from server.api.schemas import Id


class CourseOut(Schema):
    """version: the one in force. by: who made it; null for what shipped. students: in it, earlier counts of
    them on an earlier version."""

    key: str
    version: int
    by: str | None
    at: Moment
    students: int
    earlier: int
    titles: dict[str, str] = Field(description="What each task is called, by its name in files")
    flown: dict[str, list[str]] = Field(description="The figures of each lesson in words, by its key")
    course: Course


class CourseIn(Schema):
    version: Id = 1
    course: Course


class CourseRead(Schema):
    """A course that was sent to be looked at. version: the one in force of it here; null where the school has
    none of this name. differs: from that one."""

    version: int | None
    differs: list[Differs]
    course: Course


class VersionOut(Schema):
    version: int
    by: str | None
    at: Moment
    differs: list[Differs]


class LessonOut(Schema):
    """course: what it belongs to; empty for the free one."""

    key: str
    name: str
    purpose: str
    course: str
