"""How somebody stands to what is required of them, from what is signed, done on the ground, and on record by
somebody's word."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date
from typing import Any

from django.db.models import Q
from django.db.models.fields.json import KeyTextTransform, KeyTransform
from pydantic import TypeAdapter

from keelturn.figures.catalogue import figure_of
from keelturn.formats.reading import refused
from keelturn.progress.lessons import name_of
from keelturn.progress.requirements import (
    BY_KEY,
    REQUIREMENTS,
    AskKind,
    CountsToward,
    FlightKept,
    Requirement,
    RequirementStanding,
    WordGiven,
    standing_to,
)
from server import clock
from server.school.models import (
    CourseVersion,
    GroundDone,
    Person,
    SchoolStandards,
    Sortie,
    Statement,
)
from server.school.models.kept import Of
from server.school.operations.kept import kept
from server.school.operations.record import COUNTED_STAGES
from server.school.operations.school import attempts_seen
from server.school.permissions import Denied, require_chief, require_instructor

STANDINGS = TypeAdapter(list[RequirementStanding])
MOST_HOURS, MOST_FLIGHTS = 20_000.0, 20_000.0


def standings_of(person: Person) -> list[RequirementStanding]:
    """To each requirement that concerns them: as a student, as an instructor, or both. One query where it is
    kept."""

    def count() -> Any:
        return STANDINGS.dump_python(_count(person), mode="json")

    found = kept(Of.PERSON, person.pk, "requirements", clock.day_of(clock.now()), count)
    return STANDINGS.validate_python(found)


def _count(person: Person) -> list[RequirementStanding]:
    standards, today = SchoolStandards.in_force().document(), clock.day_of(clock.now())
    courses = CourseVersion.in_force()
    lessons = {lesson.key: c.key for c in courses for lesson in c.document().lessons}
    ground = _ground(person, courses)
    stated = stated_of(person)
    asked = [one for one in REQUIREMENTS if _concerns(one, person)]
    whose = {
        "student": Q(student__person=person),
        "instructor": Q(instructor=person) | Q(student__person=person),
    }
    flown = {whom: flights_of(whose[whom], lessons) for whom in dict.fromkeys(one.whom for one in asked)}
    return [
        standing_to(one, standards, flown[one.whom], ground.get(one.course, []), stated, today)
        for one in asked
    ]


def _concerns(one: Requirement, person: Person) -> bool:
    return person.teaches if one.whom == "instructor" else hasattr(person, "student")


def flights_of(whose: Q, lessons: dict[str, str]) -> list[FlightKept]:
    """Debriefed and signed flights, oldest first. lessons: the course of each, by its key. Two queries."""
    flown = Sortie.objects.filter(whose, stage__in=COUNTED_STAGES)
    said = {
        "minutes": KeyTransform("flight_min", "debrief"),
        "lesson": KeyTextTransform("lesson", "plan"),
    }
    names = ("pk", "planned_for", "stage", "minutes", "lesson", "lesson_kept")
    rows = list(flown.annotate(**said).order_by("planned_for", "pk").values_list(*names))
    seen = attempts_seen([pk for pk, *_ in rows])
    return [
        FlightKept(
            pk,
            clock.day_of(at),
            None if minutes is None else float(minutes),
            frozenset(figure_of(one.figure).family for one in seen[pk] if one.to_the_end),
            lessons.get(lesson or "", ""),
            (called or {}).get("name") or name_of(lesson or ""),
            stage == "signed",
        )
        for pk, at, stage, minutes, lesson, called in rows
    ]


def _ground(person: Person, courses: Iterable[CourseVersion]) -> dict[str, list[CountsToward]]:
    """Hours done on the ground, by the key of their course. One query."""
    items = {(c.key, item.key): item for c in courses for item in c.document().ground}
    found: dict[str, list[CountsToward]] = {}
    for done in GroundDone.objects.filter(student__person=person):
        item = items.get((done.course, done.item))
        if item is not None:
            found.setdefault(done.course, []).append(
                CountsToward(item.words, clock.day_of(done.at), item.hours, None)
            )
    return found


def stated_of(person: Person) -> list[WordGiven]:
    """AskKind is on record by somebody's word and was not taken back. One query."""
    rows = Statement.objects.filter(person=person, takes_back=None, taken_back=None).select_related("by")
    return [
        WordGiven(
            row.pk,
            row.requirement,
            AskKind(row.what),
            row.amount,
            row.on,
            row.signed_by,
            row.words,
            row.by.name,
        )
        for row in rows
    ]


@dataclass(frozen=True)
class Said:
    """AskKind is entered of a statement."""

    requirement: str
    what: AskKind
    amount: float
    on: date
    signed_by: str
    words: str


def require_may_state(asker: Person, person: Person) -> None:
    """Of students any instructor, of who teaches the chief; nobody of themselves. Raises Denied."""
    require_instructor(asker)
    if person.pk == asker.pk:
        raise Denied("nobody records a signature for themselves", "Another instructor does it.")
    if person.teaches:
        require_chief(asker, "what is on record of an instructor")


def state(asker: Person, person: Person, said: Said) -> Statement:
    """Raises Denied, Refused."""
    require_may_state(asker, person)
    _require_it_can_be(person, said)
    return Statement.objects.create(
        person=person,
        requirement=said.requirement,
        what=said.what,
        amount=said.amount,
        on=said.on,
        signed_by=said.signed_by,
        words=said.words,
        by=asker,
    )


def _require_it_can_be(person: Person, said: Said) -> None:
    found = BY_KEY.get(said.requirement)
    if found is None or not _concerns(found, person):
        raise refused("requirement", f"'{said.requirement}' is not asked of {person.name}", "Choose another.")
    if said.what not in {asks.what for asks in found.asks}:
        raise refused("what", f"{found.name} asks for no {said.what}", "Choose what it asks for.")
    if said.on > clock.day_of(clock.now()):
        raise refused("on", f"{said.on:%d %b %Y} is still to come", "Give the day on which it was.")
    counts = said.what in (AskKind.FLIGHT, AskKind.GROUND, AskKind.FLIGHTS)
    if counts and not 0 < said.amount <= (MOST_FLIGHTS if said.what == AskKind.FLIGHTS else MOST_HOURS):
        raise refused("amount", "it is nothing, or more than can be", "Give the hours or flights.")


def take_back(asker: Person, statement: Statement, reason: str) -> None:
    """It stays on record, with who took it back and why. Raises Denied, Refused."""
    person = statement.person
    require_may_state(asker, person)
    if statement.takes_back_id is not None or hasattr(statement, "taken_back"):
        raise refused("statement", "it was taken back already", "Look at the page again.")
    Statement.objects.create(
        person=person,
        requirement=statement.requirement,
        what=statement.what,
        on=clock.day_of(clock.now()),
        signed_by=asker.name,
        words=reason,
        takes_back=statement,
        by=asker,
    )
