"""Students: the list, and one student's way."""

from collections.abc import Mapping, Sequence
from datetime import datetime
from typing import Any

from django.db.models import QuerySet
from django.http import HttpRequest, HttpResponse
from ninja import Router
from pydantic import TypeAdapter
from pydantic_core import to_json

from keelturn.assess.briefed import Briefed
from keelturn.margins.own import OwnPlace, own_place
from server import clock
from server.api.counted import lines_of, page_of
from server.api.doors import REFUSALS, as_json, asking, seen_student
from server.api.schemas import Id, InstructorOut
from server.api.sorties import line_read
from server.api.student_schemas import (
    EnrolIn,
    GroundIn,
    MoveIn,
    MoveOut,
    SaidOut,
    StandingAhead,
    StandingIn,
    StandingOut,
    StudentLine,
    StudentOut,
)
from server.school.models import Person, SchoolStandards, Sortie, Student
from server.school.models.people import Role
from server.school.operations import enrolling
from server.school.operations.own import own_numbers
from server.school.operations.record import (
    COUNTED_STAGES,
    OPEN_STAGES,
)
from server.school.permissions import require_instructor, sorties_seen_by, students_seen_by

router = Router(tags=["students"])
# Flights in which what was said last is looked for.
LAST = 12
NEVER = "1970-01-01T00:00:00Z"
BRIEFED = TypeAdapter(dict[str, tuple[float, Briefed]])


@router.get("/students", response={200: list[StudentLine], **REFUSALS})
def students(request: HttpRequest) -> HttpResponse:
    """Who is due first, then who has not flown for longest. Two queries."""
    who = asking(request)
    there = list(students_seen_by(who).filter(person__is_active=True))
    lines = lines_of(there, who.teaches, clock.now())
    lines.sort(key=lambda s: (not s["is_due"], datetime.fromisoformat(s["last_flew"] or NEVER)))
    return as_json(to_json(lines))


@router.get("/instructors", response={200: list[InstructorOut], **REFUSALS})
def instructors(request: HttpRequest) -> list[InstructorOut]:
    """Who can be booked to instruct. One query."""
    require_instructor(asking(request))
    found = Person.objects.filter(role__in=(Role.INSTRUCTOR, Role.CHIEF), is_active=True).order_by("name")
    return [InstructorOut(id=person.pk, name=person.name) for person in found]


@router.get("/students/{student_id}", response={200: StudentOut, **REFUSALS})
def student(request: HttpRequest, student_id: Id) -> HttpResponse:
    return _student(request, seen_student(request, student_id).pk)


def _student(request: HttpRequest, student_id: int) -> HttpResponse:
    """StudentOut, of which most is kept as it is sent."""
    now, who = clock.now(), asking(request)
    found = Student.objects.select_related("person", "stage_by").get(pk=student_id)
    instructs = who.teaches and found.person_id != who.pk
    # Where every debrief is done both see the same.
    everything = instructs or not found.sorties.filter(stage="flown").exists()
    counted = page_of(found, everything, now)
    briefed, missing = BRIEFED.validate_python(counted.pop("briefed")), counted.pop("missing")
    signed = counted.pop("signed")
    mine = sorties_seen_by(who).filter(student=found)
    still = [line_read(s) for s in mine.filter(stage__in=OPEN_STAGES)]
    page = {
        **lines_of([found], everything, now)[0],
        **counted,
        "now": now,
        "person_id": found.person_id,
        "goal": found.goal,
        "record": sorted([*still, *signed], key=_flown_at, reverse=True),
        "said": _said(mine),
        "own": _own(found, briefed, now),
        "standing": _standing(found, missing),
    }
    return as_json(to_json(page))


def _flown_at(line: dict[str, Any]) -> datetime:
    """As it was read, or as it was kept."""
    at: datetime | str = line["planned_for"]
    return datetime.fromisoformat(at) if isinstance(at, str) else at


def _own(student: Student, last: Mapping[str, tuple[float, Briefed]], now: datetime) -> list[OwnPlace]:
    """last: of each figure what it was briefed to cost when it was flown last. In feet of then."""
    own = own_numbers(student, now)
    needed = round(SchoolStandards.in_force().document().own_attempts.value)
    return [
        own_place(figure, own[figure], likely, briefed.lies, needed)
        for figure, (likely, briefed) in last.items()
        if figure in own
    ]


def _said(seen: QuerySet[Sortie]) -> SaidOut | None:
    """Of the last flight of these that has something said, among the last ones. One query."""
    debriefed = seen.filter(stage__in=COUNTED_STAGES).order_by("-planned_for")
    for pk, at, by, debrief in debriefed.values_list("pk", "planned_for", "instructor__name", "debrief")[
        :LAST
    ]:
        words = {name: str(debrief.get(name) or "") for name in ("one_thing", "next")}
        if any(words.values()):
            return SaidOut(sortie_id=pk, at=at, by=by, **words)
    return None


def _standing(student: Student, missing: Sequence[str]) -> StandingOut:
    follows, why = student.standing_that_follows
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


@router.put("/students/{student_id}/course", response={200: StudentOut, **REFUSALS})
def enrol(request: HttpRequest, student_id: Id, data: EnrolIn) -> HttpResponse:
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
def move_on(request: HttpRequest, student_id: Id, data: MoveIn) -> HttpResponse:
    enrolling.move_on(asking(request), seen_student(request, student_id), data.version)
    return _student(request, student_id)


@router.put("/students/{student_id}/standing", response={200: StudentOut, **REFUSALS})
def set_standing(request: HttpRequest, student_id: Id, data: StandingIn) -> HttpResponse:
    enrolling.set_standing(asking(request), seen_student(request, student_id), data.standing, data.reason)
    return _student(request, student_id)


@router.put("/students/{student_id}/ground/{item}", response={200: StudentOut, **REFUSALS})
def tick_ground(request: HttpRequest, student_id: Id, item: str, data: GroundIn) -> HttpResponse:
    enrolling.tick_ground(asking(request), seen_student(request, student_id), item, data.done)
    return _student(request, student_id)
