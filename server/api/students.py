"""Students: the list, and one student's way."""

from collections.abc import Iterable
from datetime import datetime
from typing import Any

from django.db.models import Count, Max, Min, Q, QuerySet
from django.http import HttpRequest
from ninja import Router

from keelturn.assess.briefed import Briefed
from keelturn.figures.catalogue import figure_of
from keelturn.figures.figure import fault_of
from keelturn.margins.own import OwnPlace, own_place
from keelturn.noting.attempt import Attempt
from keelturn.progress.due import due, last_feel
from keelturn.progress.habits import fault_trends
from keelturn.progress.next_lesson import NextLesson, Offer, next_lesson
from keelturn.progress.states import marks_of
from server import clock
from server.api.doors import REFUSALS, asking, seen_student
from server.api.schemas import Id, InstructorOut
from server.api.sorties import line
from server.api.student_schemas import (
    EnrolIn,
    FeltOut,
    GroundIn,
    GroundOut,
    MoveIn,
    MoveOut,
    NextOut,
    NotYetOut,
    OfferOut,
    PastAttempt,
    SaidOut,
    StandingAhead,
    StandingIn,
    StandingOut,
    StudentLine,
    StudentOut,
    TaskOut,
    WayOut,
)
from server.school.models import AttemptRow, CourseVersion, Person, SchoolStandards, Sortie, Student
from server.school.models.people import Role
from server.school.operations import enrolling
from server.school.operations.enrolling import OnTheWay, ways_of
from server.school.operations.own import briefed_kept, own_numbers
from server.school.operations.record import (
    COUNTED_STAGES,
    FLOWN_STAGES,
    attempt_kept,
    attempt_rows_of,
    by_lesson,
)
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


def _next(student: Student, on: OnTheWay, now: datetime) -> NextLesson | None:
    """None for who is in no course."""
    if on.way is None:
        return None
    return next_lesson(on.way, student.stage_reached, on.lately, clock.day_of(now))


def _line(
    student: Any, lessons: list[list[Attempt]], on: OnTheWay, coming: NextLesson | None, now: datetime
) -> dict[str, Any]:
    """Of one that has its dates."""
    last: datetime | None = student.last
    booked: datetime | None = student.booked
    stays = next((t for t in fault_trends(lessons) if t.trend == "not going away"), None)
    found = due(clock.day_of(now), last and clock.day_of(last), booked and clock.day_of(booked))
    return {
        "id": student.pk,
        "name": student.person.name,
        "stage": student.stage_reached,
        "course": "" if on.way is None else on.way.course.name,
        "sorties": student.count,
        "last_flew": last,
        "booked": booked,
        "is_due": found.is_due,
        "why_due": found.why,
        "next_lesson": "" if coming is None else coming.lesson.name,
        "next_why": "In no course yet." if coming is None else coming.why[0],
        "last_feel": last_feel(lessons),
        "stubborn": stays,
    }


@router.get("/students", response={200: list[StudentLine], **REFUSALS})
def students(request: HttpRequest) -> list[StudentLine]:
    """Who is due first, then who has not flown for longest. Six queries."""
    now = clock.now()
    there = students_seen_by(asking(request)).filter(person__is_active=True)
    found = list(_with_dates(there, now))
    flown: dict[int, list[AttemptRow]] = {s.pk: [] for s in found}
    for row in attempt_rows_of(found):
        flown[row.sortie.student_id].append(row)
    ways = ways_of(found, clock.day_of(now))
    lines = [
        StudentLine(**_line(s, by_lesson(flown[s.pk]), ways[s.pk], _next(s, ways[s.pk], now), now))
        for s in found
    ]
    return sorted(lines, key=lambda s: (not s.is_due, s.last_flew.timestamp() if s.last_flew else 0.0))


@router.get("/instructors", response={200: list[InstructorOut], **REFUSALS})
def instructors(request: HttpRequest) -> list[InstructorOut]:
    """Who can be booked to instruct. One query."""
    require_instructor(asking(request))
    found = Person.objects.filter(role__in=(Role.INSTRUCTOR, Role.CHIEF), is_active=True).order_by("name")
    return [InstructorOut(id=person.pk, name=person.name) for person in found]


def _past(row: AttemptRow, attempt: Attempt) -> PastAttempt:
    briefed = briefed_kept(row.sortie).get(attempt.planned.id)
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
    )


@router.get("/students/{student_id}", response={200: StudentOut, **REFUSALS})
def student(request: HttpRequest, student_id: Id) -> StudentOut:
    return _student(request, seen_student(request, student_id).pk)


def _student(request: HttpRequest, student_id: int) -> StudentOut:
    now = clock.now()
    found = _with_dates(Student.objects.filter(pk=student_id).select_related("person", "stage_by"), now).get()
    rows = attempt_rows_of([found])
    for row in rows:
        row.sortie.student = found
    rows = [row for row in rows if may_see_looks(asking(request), row.sortie)]
    lessons = by_lesson(rows)
    mine = sorties_seen_by(asking(request)).filter(student=found)
    seen = mine.select_related("signature").defer("signature__document").order_by("-planned_for")
    on = ways_of([found], clock.day_of(now))[found.pk]
    coming = _next(found, on, now)
    return StudentOut(
        **_line(found, lessons, on, coming, now),
        now=now,
        person_id=found.person_id,
        goal=found.goal,
        attempts=[
            _past(row, attempt)
            for row in rows
            if row.lost_ft is not None and (attempt := attempt_kept(row)) is not None
        ],
        trends=list(fault_trends(lessons)),
        record=[line(s) for s in seen],
        felt=_felt(on),
        said=_said(seen),
        own=_own(found, rows, now),
        standing=_standing(found, on),
        way=None if on.way is None else _way(found, on),
        next=None if coming is None else _next_out(coming),
    )


def _own(student: Student, rows: Iterable[AttemptRow], now: datetime) -> list[OwnPlace]:
    """In feet as each figure was last briefed."""
    own = own_numbers(student, now)
    needed = round(SchoolStandards.in_force().document().own_attempts.value)
    last = dict[str, tuple[float, Briefed]]()
    for row in rows:
        briefed = briefed_kept(row.sortie).get(str(row.attempt.get("planned", {}).get("id")))
        if row.deviation is not None and row.briefed_ft is not None and briefed is not None:
            last[row.figure] = row.briefed_ft, briefed
    return [
        own_place(figure, own[figure], likely, briefed.lies, needed)
        for figure, (likely, briefed) in last.items()
        if figure in own
    ]


def _felt(on: OnTheWay) -> list[FeltOut]:
    last = {f.flight: (f.day, f.attempt.feel) for f in on.flown if f.attempt.feel is not None}
    return [FeltOut(flight=flight, day=day, feel=feel) for flight, (day, feel) in last.items()]


def _said(latest_first: Iterable[Sortie]) -> SaidOut | None:
    """Of the last flight that has something said."""
    for sortie in latest_first:
        debrief = sortie.debrief if sortie.stage in COUNTED_STAGES else {}
        words = {name: str(debrief.get(name) or "") for name in ("one_thing", "next")}
        if any(words.values()):
            by = sortie.instructor.name
            return SaidOut(sortie_id=sortie.pk, at=sortie.planned_for, by=by, **words)
    return None


def _standing(student: Student, on: OnTheWay) -> StandingOut:
    follows, why = student.standing_that_follows
    missing = on.standing.missing if on.standing is not None else ()
    return StandingOut(
        standing=student.stage_reached,
        follows=follows,
        why=why,
        missing=list(missing),
        set_by=student.stage_by.name if student.stage and student.stage_by else None,
        set_at=student.stage_at if student.stage else None,
        reason=student.stage_reason if student.stage else "",
        ahead=[StandingAhead(day=day, standing=standing, why=why) for day, standing, why in student.ahead],
    )


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


@router.put("/students/{student_id}/course", response={200: StudentOut, **REFUSALS})
def enrol(request: HttpRequest, student_id: Id, data: EnrolIn) -> StudentOut:
    """Into a course, out of the one before."""
    found = seen_student(request, student_id)
    enrolling.enrol(asking(request), found, data.course, data.why)
    return _student(request, student_id)


@router.get("/students/{student_id}/course/move", response={200: MoveOut, **REFUSALS})
def move(request: HttpRequest, student_id: Id) -> MoveOut:
    """What moving to the version in force would change."""
    shown = enrolling.move_of(seen_student(request, student_id))
    return MoveOut(version=shown.to, differs=list(shown.differs), tasks=list(shown.tasks))


@router.post("/students/{student_id}/course/move", response={200: StudentOut, **REFUSALS})
def move_on(request: HttpRequest, student_id: Id, data: MoveIn) -> StudentOut:
    enrolling.move_on(asking(request), seen_student(request, student_id), data.version)
    return _student(request, student_id)


@router.put("/students/{student_id}/standing", response={200: StudentOut, **REFUSALS})
def set_standing(request: HttpRequest, student_id: Id, data: StandingIn) -> StudentOut:
    enrolling.set_standing(asking(request), seen_student(request, student_id), data.standing, data.reason)
    return _student(request, student_id)


@router.put("/students/{student_id}/ground/{item}", response={200: StudentOut, **REFUSALS})
def tick_ground(request: HttpRequest, student_id: Id, item: str, data: GroundIn) -> StudentOut:
    enrolling.tick_ground(asking(request), seen_student(request, student_id), item, data.done)
    return _student(request, student_id)
