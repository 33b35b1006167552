"""Students in their courses: put in, moved to a later version, what was done on the ground, and the standing
that follows or that the chief has set."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any

from django.db import transaction
from django.db.models.fields.json import KeyTextTransform

from keelturn.assess.grade import grade_that_counts
from keelturn.figures.figure import Stage
from keelturn.formats.reading import refused
from keelturn.noting.attempt import Attempt
from keelturn.progress.course import Course
from keelturn.progress.states import Flown
from keelturn.progress.versions import Differs, Moves, differences, moved
from keelturn.progress.way import StandingFollows, Way, standing_in, standings_ahead, way_through
from keelturn.school.standards import Standards
from server import clock
from server.school.models import (
    AttemptRow,
    Change,
    CourseVersion,
    Enrolment,
    GroundDone,
    Person,
    SchoolStandards,
    Student,
)
from server.school.operations.comparing import same_version
from server.school.operations.courses import course_in_force
from server.school.operations.own import count_population
from server.school.operations.record import COUNTED_STAGES, FLOWN_STAGES, attempt_kept
from server.school.permissions import require_chief, require_instructor


def flown_by(
    students: Sequence[Student], standards: Standards, stages: Iterable[str] = COUNTED_STAGES
) -> dict[int, list[Flown]]:
    """Every attempt at these stages, oldest first, by the student's id. One query."""
    rows = (
        AttemptRow.objects.filter(sortie__student__in=students, sortie__stage__in=tuple(stages))
        .annotate(lesson=KeyTextTransform("lesson", "sortie__plan"))
        .select_related("sortie")
        .only(
            "attempt",
            "corrected",
            "lost_ft",
            "briefed_ft",
            "sortie__student",
            "sortie__planned_for",
            "sortie__stage",
        )
        .order_by("sortie__planned_for", "sortie_id", "order")
    )
    found: dict[int, list[Flown]] = {student.pk: [] for student in students}
    for row in rows:
        if (attempt := attempt_kept(row)) is None:
            continue
        found[row.sortie.student_id].append(flown_of(row, attempt, row.lesson or "", standards))
    return found


def flown_of(row: AttemptRow, attempt: Attempt, lesson: str, standards: Standards) -> Flown:
    """A stored attempt, as it counts."""
    known = row.lost_ft is not None and row.briefed_ft is not None
    return Flown(
        attempt,
        clock.day_of(row.sortie.planned_for),
        row.sortie_id,
        lesson,
        row.lost_ft - row.briefed_ft if known else None,  # type: ignore[operator]
        row.sortie.stage in COUNTED_STAGES,
        tuple(row.corrections),
        grade_that_counts(attempt, row.lost_ft, row.briefed_ft, standards),
    )


def enrolment_of(student: Student) -> Enrolment | None:
    """One query."""
    return student.enrolments.filter(ended=None).select_related("course").first()


@dataclass(frozen=True)
class OnTheWay:
    """A student's course with what was flown and done toward it. flown: what counts; lately: with what is not
    debriefed yet. way, standing: through this course alone; None for who is in none."""

    enrolment: Enrolment | None
    flown: Sequence[Flown]
    lately: Sequence[Flown]
    way: Way | None
    standing: StandingFollows | None


def ways_of(students: Sequence[Student], today: date) -> dict[int, OnTheWay]:
    """By the student's id. Four queries, whatever their number."""
    standards = SchoolStandards.in_force().document()
    lately = flown_by(students, standards, FLOWN_STAGES)
    flown = {pk: [f for f in found if f.debriefed] for pk, found in lately.items()}
    enrolments = {
        found.student_id: found
        for found in Enrolment.objects.filter(student__in=students, ended=None).select_related("course")
    }
    ground: dict[int, list[GroundDone]] = {}
    for done in GroundDone.objects.filter(student__in=students):
        ground.setdefault(done.student_id, []).append(done)
    courses: dict[int, Course] = {}
    found = {}
    for student in students:
        on = enrolments.get(student.pk)
        way = None
        if on is not None:
            course = courses.setdefault(on.course_id, on.course.document())
            items = [g.item for g in ground.get(student.pk, ()) if g.course == course.key]
            way = way_through(course, flown[student.pk], items, today, standards)
        standing = None if way is None else standing_in(way, today, standards)
        found[student.pk] = OnTheWay(on, flown[student.pk], lately[student.pk], way, standing)
    return found


def count_standing(student: Student) -> None:
    """The standing that follows, from today on, from every course that the student is or was in. The caller's
    transaction."""
    standards = SchoolStandards.in_force().document()
    courses = [on.course.document() for on in student.enrolments.select_related("course")]
    today = clock.day_of(clock.now())
    ahead = standings_ahead(courses, flown_by([student], standards)[student.pk], today, standards)
    student.follows = [[day.isoformat(), one.standing, one.why] for day, one in ahead]
    Student.objects.filter(pk=student.pk).update(follows=student.follows)


def count_flight(student: Student) -> None:
    """What follows from a flight whose debrief was finished, changed or taken back: the student's standing,
    and what the school's students lose. The caller's transaction."""
    count_standing(student)
    count_population()


def count_standings() -> None:
    """Of every student: what they are counted by has changed. The caller's transaction."""
    for student in Student.objects.all():
        count_standing(student)


def enrol(person: Person, student: Student, key: str | None, why: str) -> None:
    """Into the course as it is in force, out of the one before; no key: out of it only. why: of leaving, in
    words. Raises Denied, Refused."""
    require_instructor(person)
    course = None if key is None else course_in_force(key)
    with transaction.atomic():
        on = enrolment_of(student)
        if on is not None and course is not None and on.course.key == course.key:
            raise refused(
                "course",
                f"{student.person.name} is in this course already, on version {on.course.version}",
                "Move to the later version instead.",
            )
        if on is not None:
            on.ended, on.ended_why = clock.now(), why
            on.save()
        if course is not None:
            Enrolment.objects.create(student=student, course=course, by=person)
        _keep(
            person,
            student,
            {"course": _named(on.course if on else None), "why": why},
            {"course": _named(course)},
        )
        count_standing(student)


@dataclass(frozen=True)
class Move:
    """What moving a student to the version in force changes: of the course, and of their tasks."""

    to: int
    differs: tuple[Differs, ...]
    tasks: tuple[Moves, ...]


def move_of(student: Student) -> Move:
    """Four queries. Raises Refused where there is nothing to move to."""
    on, course = _on_an_earlier_version(student)
    standards = SchoolStandards.in_force().document()
    before, after = on.course.document(), course.document()
    flown = flown_by([student], standards)[student.pk]
    today = clock.day_of(clock.now())
    return Move(course.version, differences(before, after), moved(before, after, flown, today, standards))


def move_on(person: Person, student: Student, version: int) -> None:
    """Onto the version in force, which is the one that was shown. Raises Denied, Refused."""
    require_instructor(person)
    with transaction.atomic():
        on, course = _on_an_earlier_version(student)
        same_version(course.version, version)
        before, on.course = on.course, course
        on.save()
        _keep(person, student, {"course": _named(before)}, {"course": _named(course)})
        count_standing(student)


def _on_an_earlier_version(student: Student) -> tuple[Enrolment, CourseVersion]:
    on = enrolment_of(student)
    if on is None:
        raise refused("course", f"{student.person.name} is in no course", "Put them into one first.")
    course = course_in_force(on.course.key)
    if course.version == on.course.version:
        raise refused(
            "course", f"{student.person.name} is on the version in force", "There is none to move to."
        )
    return on, course


def set_standing(person: Person, student: Student, standing: Stage | None, reason: str) -> None:
    """Otherwise than it follows, with a reason; None: as it follows. Raises Denied."""
    require_chief(person, "a student's standing")
    with transaction.atomic():
        before = {"standing": student.stage or "as it follows", "reason": student.stage_reason}
        student.stage, student.stage_reason = standing or "", reason
        student.stage_by, student.stage_at = person, clock.now()
        student.save(update_fields=["stage", "stage_reason", "stage_by", "stage_at"])
        _keep(person, student, before, {"standing": student.stage or "as it follows", "reason": reason})


def tick_ground(person: Person, student: Student, item: str, done: bool) -> None:
    """Raises Denied, Refused for what the student's course does not have."""
    require_instructor(person)
    on = enrolment_of(student)
    words = {g.key: g.words for g in on.course.document().ground} if on is not None else {}
    if on is None or item not in words:
        raise refused("item", f"the course has nothing on the ground called '{item}'", "Reload the page.")
    with transaction.atomic():
        found = GroundDone.objects.filter(student=student, course=on.course.key, item=item)
        if found.exists() == done:
            return
        if done:
            GroundDone.objects.create(student=student, course=on.course.key, item=item, by=person)
        else:
            found.delete()
        _keep(person, student, {words[item]: _done(not done)}, {words[item]: _done(done)})


def _done(done: bool) -> str:
    return "done on the ground" if done else "not done"


def _named(course: CourseVersion | None) -> str:
    return "none" if course is None else f"{course.document().name}, version {course.version}"


def _keep(person: Person, student: Student, before: dict[str, Any], after: dict[str, Any]) -> None:
    Change.objects.create(subject=f"student {student.pk}", by=person, before=before, after=after)
