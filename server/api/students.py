"""Students: the list, and one student's way."""

from typing import Any

from django.db.models import Count, Max, Q
from django.http import HttpRequest
from ninja import Router

from keelturn.assess.attempts import Attempt
from keelturn.figures.catalogue import figure_of
from keelturn.figures.figure import fault_of
from keelturn.progress.habits import fault_trends, standards_reached
from server.api.doors import REFUSALS, asking, seen_student
from server.api.schemas import Id, PastAttempt, StudentLine, StudentOut
from server.api.sorties import line
from server.school.models import AttemptRow, Student
from server.school.operations.record import FLOWN_STAGES, attempt_kept, attempt_rows, by_lesson
from server.school.permissions import sorties_seen_by, students_seen_by

router = Router(tags=["students"])
FLOWN = Q(sorties__stage__in=FLOWN_STAGES)


def _line(student: Student) -> dict[str, Any]:
    return {
        "id": student.pk,
        "name": student.person.name,
        "stage": student.stage,
        "sorties": student.sorties.filter(stage__in=FLOWN_STAGES).count(),
        "last_flew": student.sorties.filter(stage__in=FLOWN_STAGES).aggregate(last=Max("planned_for"))[
            "last"
        ],
    }


@router.get("/students", response={200: list[StudentLine], **REFUSALS})
def students(request: HttpRequest) -> list[StudentLine]:
    """One query."""
    found = students_seen_by(asking(request)).annotate(
        count=Count("sorties", filter=FLOWN), last=Max("sorties__planned_for", filter=FLOWN)
    )
    return [
        StudentLine(id=s.pk, name=s.person.name, stage=s.stage_reached, sorties=s.count, last_flew=s.last)
        for s in found
    ]


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
    found = seen_student(request, student_id)
    rows = attempt_rows(found)
    lessons = by_lesson(rows)
    mine = sorties_seen_by(asking(request)).filter(student=found)
    seen = mine.select_related("signature").defer("signature__document").order_by("-planned_for")
    return StudentOut(
        **_line(found),
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
