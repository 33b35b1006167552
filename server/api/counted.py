"""What takes longest to count of students, for their list and their page: kept until something of it
changes."""

from collections.abc import Sequence
from dataclasses import asdict
from datetime import datetime
from itertools import groupby
from typing import Any

from django.db.models import Count, Max, Min, Q, QuerySet
from pydantic_core import to_jsonable_python

from keelturn.assess.briefed import Briefed
from keelturn.figures.catalogue import figure_of
from keelturn.figures.figure import fault_of
from keelturn.noting.attempt import Attempt
from keelturn.progress.due import due, last_feel
from keelturn.progress.habits import fault_trends
from keelturn.progress.next_lesson import NextLesson, Offer, next_lesson
from keelturn.progress.states import by_flight, marks_of
from server import clock
from server.api.sorties import lightly, line
from server.api.student_schemas import (
    FeltOut,
    GroundOut,
    NextOut,
    NotYetOut,
    OfferOut,
    PastAttempt,
    StudentCounted,
    TaskOut,
    WayOut,
)
from server.school.models import AttemptRow, CourseVersion, Student
from server.school.models.kept import Of
from server.school.operations.enrolling import OnTheWay, ways_of
from server.school.operations.kept import kept, kept_of_each
from server.school.operations.own import briefed_kept
from server.school.operations.record import (
    COUNTED_STAGES,
    FLOWN_STAGES,
    attempt_kept,
    attempt_rows,
)
from server.school.permissions import with_people

FLOWN = Q(sorties__stage__in=FLOWN_STAGES)


def lines_of(students: Sequence[Student], everything: bool, now: datetime) -> list[dict[str, Any]]:
    """Of each what the list shows. everything: as in page_of. One query where all are kept."""

    def count(numbers: list[int]) -> dict[int, Any]:
        found = list(_with_dates(Student.objects.filter(pk__in=numbers).select_related("person"), now))
        ways = ways_of(found, clock.day_of(now))
        flown = {pk: on.lately if everything else on.flown for pk, on in ways.items()}
        return {s.pk: _line(s, by_flight(flown[s.pk]), ways[s.pk], now) for s in found}

    what = "line" if everything else "own line"
    found = kept_of_each(Of.STUDENT, [s.pk for s in students], what, clock.day_of(now), count)
    return [{"id": s.pk, "name": s.person.name, **found[s.pk]} for s in students]


def page_of(student: Student, everything: bool, now: datetime) -> dict[str, Any]:
    """StudentCounted as JSON has it. everything: also what an instructor has noted of flights whose debrief
    is not done. One query where it is kept."""

    def count() -> Any:
        return _page(student, everything, now).model_dump(mode="json")

    what = "page" if everything else "own page"
    found: dict[str, Any] = kept(Of.STUDENT, student.pk, what, clock.day_of(now), count)
    return found


def _page(student: Student, everything: bool, now: datetime) -> StudentCounted:
    stages = FLOWN_STAGES if everything else COUNTED_STAGES
    rows = [row for row in attempt_rows(student) if row.sortie.stage in stages]
    on = ways_of([student], clock.day_of(now))[student.pk]
    coming = _next(student, on, now)
    past, briefed = list[PastAttempt](), dict[str, Any]()
    for _, group in groupby(rows, key=lambda row: row.sortie_id):
        of_flight = list(group)
        looked_back_on = briefed_kept(of_flight[0].sortie)
        for row in of_flight:
            attempt = attempt_kept(row)
            if attempt is None:
                continue
            of = looked_back_on.get(attempt.planned.id)
            if row.lost_ft is not None:
                past.append(_past(row, attempt, of))
            if row.deviation is not None and row.briefed_ft is not None and of is not None:
                briefed[row.figure] = row.briefed_ft, of
    return StudentCounted(
        attempts=past,
        trends=list(fault_trends(by_flight(on.lately if everything else on.flown))),
        felt=_felt(on),
        way=None if on.way is None else _way(student, on),
        next=None if coming is None else _next_out(coming),
        missing=list(on.standing.missing) if on.standing is not None else [],
        signed=[line(s) for s in lightly(with_people(student.sorties.filter(stage="signed")))],
        briefed=briefed,
    )


def _with_dates(found: QuerySet[Student], now: datetime) -> QuerySet[Student]:
    ahead = Q(sorties__stage__in=("planned", "briefed"), sorties__cancelled=None)
    return found.annotate(
        count=Count("sorties", filter=FLOWN),
        last=Max("sorties__planned_for", filter=FLOWN),
        booked=Min("sorties__planned_for", filter=ahead & Q(sorties__planned_for__gte=clock.morning_of(now))),
    )


def _next(student: Student, on: OnTheWay, now: datetime) -> NextLesson | None:
    """None for who is in no course."""
    if on.way is None:
        return None
    return next_lesson(on.way, student.stage_reached, on.lately, clock.day_of(now))


def _line(student: Any, lessons: list[list[Attempt]], on: OnTheWay, now: datetime) -> dict[str, Any]:
    """Of one that has its dates, as JSON has it."""
    last: datetime | None = student.last
    booked: datetime | None = student.booked
    coming = _next(student, on, now)
    stays = next((t for t in fault_trends(lessons) if t.trend == "not going away"), None)
    joined = clock.day_of(student.person.date_joined)
    found = due(clock.day_of(now), joined, last and clock.day_of(last), booked and clock.day_of(booked))
    return {
        "stage": student.stage_reached,
        "course": "" if on.way is None else on.way.course.name,
        "sorties": student.count,
        "last_flew": to_jsonable_python(last),
        "booked": to_jsonable_python(booked),
        "is_due": found.is_due,
        "why_due": found.why,
        "next_lesson": "" if coming is None else coming.lesson.name,
        "next_why": "In no course yet." if coming is None else coming.why[0],
        "last_feel": last_feel(lessons),
        "stubborn": stays and asdict(stays),
    }


def _past(row: AttemptRow, attempt: Attempt, briefed: Briefed | None) -> PastAttempt:
    words = [fault.words for key in attempt.faults if (fault := fault_of(figure_of(row.figure), key))]
    return PastAttempt(
        sortie_id=row.sortie_id,
        flown_on=row.sortie.planned_for,
        figure=row.figure,
        title=attempt.planned.title,
        flown_by=attempt.flown_by,
        lost_ft=row.lost_ft or 0.0,
        briefed_ft=row.briefed_ft,
        best_ft=briefed.best_ft if briefed else None,
        grade=attempt.grade,
        faults=words,
        corrected=row.corrections,
    )


def _felt(on: OnTheWay) -> list[FeltOut]:
    last = {f.flight: (f.day, f.attempt.feel) for f in on.flown if f.attempt.feel is not None}
    return [FeltOut(flight=flight, day=day, feel=feel) for flight, (day, feel) in last.items()]


def _way(student: Student, on: OnTheWay) -> WayOut:
    way, enrolment = on.way, on.enrolment
    assert way is not None and enrolment is not None
    course = way.course
    newest = CourseVersion.objects.filter(key=course.key).aggregate(n=Max("version"))["n"]
    done = {g.item: g for g in student.ground_done.filter(course=course.key).select_related("by")}
    return WayOut(
        course=course.key,
        name=course.name,
        version=enrolment.course.version,
        newest=newest,
        began=enrolment.began,
        met=way.met,
        flight_h=course.flight_h,
        ground_h=course.ground_h,
        ground_done_h=way.ground_done_h,
        tasks=[
            TaskOut(
                task=state.task,
                title=state.title,
                family=state.family,
                figure=task.figure,
                state=state.state,
                reached=state.reached,
                needed=state.needed,
                met=state.met,
                reasons=list(state.reasons),
                missing=list(state.missing),
                standard=task.words,
                lapses_on=state.lapses_on,
                last_flown=state.last_flown,
                marks=list(marks_of(task, on.flown)),
            )
            for task, state in zip(course.tasks, way.tasks, strict=True)
        ],
        ground=[
            GroundOut(
                key=item.key,
                words=item.words,
                hours=item.hours,
                done_by=done[item.key].by.name if item.key in done else None,
                done_at=done[item.key].at if item.key in done else None,
            )
            for item in course.ground
        ],
    )


def _next_out(coming: NextLesson) -> NextOut:
    def offered(offer: Offer | None) -> OfferOut | None:
        if offer is None:
            return None
        return OfferOut(lesson=offer.lesson.key, name=offer.lesson.name, why=offer.why)

    return NextOut(
        lesson=coming.lesson.key,
        name=coming.lesson.name,
        purpose=coming.lesson.purpose,
        why=list(coming.why),
        missing=list(coming.missing),
        gentler=offered(coming.gentler),
        harder=offered(coming.harder),
        not_yet=[
            NotYetOut(lesson=n.lesson.key, name=n.lesson.name, missing=list(n.missing))
            for n in coming.not_yet
        ],
    )
