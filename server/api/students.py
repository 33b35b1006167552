"""Students: the list, and one student's way."""

from datetime import datetime
from typing import Any

from django.db.models import Count, Max, Min, Q, QuerySet
from django.http import HttpRequest
from ninja import Router

from keelturn.figures.catalogue import figure_of
from keelturn.figures.figure import fault_of
from keelturn.noting.attempt import Attempt
from keelturn.progress.due import due, last_feel
from keelturn.progress.habits import fault_trends, standards_reached
from keelturn.progress.next_lesson import next_lesson
from server import clock
from server.api.doors import REFUSALS, asking, seen_student
from server.api.schemas import Id, InstructorOut, PastAttempt, StudentLine, StudentOut
from server.api.sorties import line
from server.school.models import AttemptRow, Person, Student
from server.school.models.people import Role
from server.school.operations.record import FLOWN_STAGES, attempt_kept, attempt_rows_of, by_lesson
from server.school.operations.showing import may_see_looks
from server.school.permissions import require_instructor, sorties_seen_by, students_seen_by

router = Router(tags=["students"])
FLOWN = Q(sorties__stage__in=FLOWN_STAGES)


def _with_dates(found: QuerySet[Student], now: datetime) -> QuerySet[Student]:
    ahead = Q(sorties__stage__in=("planned", "briefed"), sorties__cancelled=None)
    return found.annotate(
        count=Count("sorties", filter=FLOWN),
        last=Max("sorties__planned_for", filter=FLOWN),
        booked=Min("sorties__planned_for", filter=ahead & Q(sorties__planned_for__gte=clock.morning_of(now))),
    )


def _line(student: Any, lessons: list[list[Attempt]], now: datetime) -> dict[str, Any]:
    """Of one that has its dates."""
    last: datetime | None = student.last
    booked: datetime | None = student.booked
    wanted = next_lesson({r.figure: r.grade for r in standards_reached(lessons)}, student.stage_reached)
    stays = next((t for t in fault_trends(lessons) if t.trend == "not going away"), None)
    found = due(clock.day_of(now), last and clock.day_of(last), booked and clock.day_of(booked))
    return {
        "id": student.pk,
        "name": student.person.name,
        "stage": student.stage,
        "sorties": student.count,
        "last_flew": last,
        "booked": booked,
        "is_due": found.is_due,
        "why_due": found.why,
        "next_lesson": wanted.lesson.name,
        "next_why": wanted.why[0],
        "last_feel": last_feel(lessons),
        "stubborn": stays,
    }


@router.get("/students", response={200: list[StudentLine], **REFUSALS})
def students(request: HttpRequest) -> list[StudentLine]:
    """Who is due first, then who has not flown for longest. Two queries."""
    now = clock.now()
    found = list(_with_dates(students_seen_by(asking(request)), now))
    flown: dict[int, list[AttemptRow]] = {s.pk: [] for s in found}
    for row in attempt_rows_of(found):
        flown[row.sortie.student_id].append(row)
    lines = [StudentLine(**_line(s, by_lesson(flown[s.pk]), now)) for s in found]
    return sorted(lines, key=lambda s: (not s.is_due, s.last_flew.timestamp() if s.last_flew else 0.0))


@router.get("/instructors", response={200: list[InstructorOut], **REFUSALS})
def instructors(request: HttpRequest) -> list[InstructorOut]:
    """Who can be booked to instruct. One query."""
    require_instructor(asking(request))
    found = Person.objects.filter(role__in=(Role.INSTRUCTOR, Role.CHIEF), is_active=True).order_by("name")
    return [InstructorOut(id=person.pk, name=person.name) for person in found]


def _past(row: AttemptRow, attempt: Attempt) -> PastAttempt:
    words = [fault.words for key in attempt.faults if (fault := fault_of(figure_of(row.figure), key))]
    return PastAttempt(
        sortie_id=row.sortie_id,
        flown_on=row.sortie.planned_for,
        figure=row.figure,
        title=attempt.planned.title,
        flown_by=attempt.flown_by,
        lost_ft=row.lost_ft or 0.0,
        briefed_ft=row.briefed_ft,
        grade=attempt.grade,
        faults=words,
    )


@router.get("/students/{student_id}", response={200: StudentOut, **REFUSALS})
def student(request: HttpRequest, student_id: Id) -> StudentOut:
    now = clock.now()
    found = _with_dates(Student.objects.filter(pk=seen_student(request, student_id).pk), now).get()
    rows = [row for row in attempt_rows_of([found]) if may_see_looks(asking(request), row.sortie)]
    lessons = by_lesson(rows)
    mine = sorties_seen_by(asking(request)).filter(student=found)
    seen = mine.select_related("signature").defer("signature__document").order_by("-planned_for")
    return StudentOut(
        **_line(found, lessons, now),
        goal=found.goal,
        attempts=[
            _past(row, attempt)
            for row in rows
            if row.lost_ft is not None and (attempt := attempt_kept(row)) is not None
        ],
        trends=list(fault_trends(lessons)),
        reached=list(standards_reached(lessons)),
        record=[line(s) for s in seen],
    )
