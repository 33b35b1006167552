"""What should come before a lesson and has not: of a sortie that is planned, and of one that is proposed."""

from datetime import date, datetime
from hashlib import blake2s
from typing import Any

from django.db.models import Max
from django.db.models.fields.json import KeyTextTransform
from pydantic import TypeAdapter

from keelturn.aircraft.card import Card
from keelturn.plan.document import PlanDocument
from keelturn.plan.flight_checks import stops
from keelturn.progress.before import Known, missing_before
from keelturn.school.before import Missing
from keelturn.school.standards import Standards
from server import clock
from server.school.models import CourseVersion, SchoolStandards, Sortie, Student
from server.school.models.kept import Kept, Of
from server.school.operations.enrolling import enrolment_of, flown_by
from server.school.operations.kept import kept
from server.school.operations.reading import is_read
from server.school.operations.record import FLOWN_STAGES

MISSING = TypeAdapter(tuple[Missing, ...])
BEFORE = "before "
UNREAD = Missing(
    "brief",
    "Brief not read yet",
    "The student has not ticked the brief as it is now as read.",
    "Ask them to read it on their page, or go through it together.",
    1.0,
    "",
    "not read",
    "the brief of this sortie",
)


def missing_for(sortie: Sortie, plan: PlanDocument, card: Card, standards: Standards) -> tuple[Missing, ...]:
    """As it was when it was flown; before that as it is now, for this plan in an aircraft of this card. That
    the brief is not read is said on the day of the flight, or as soon as it stops it. One query where it is
    kept, none of a flown one."""
    if sortie.was_flown:
        return MISSING.validate_python(sortie.before_kept or [])
    found = missing_before_lesson(sortie.student, plan.lesson, card, sortie.planned_for)
    due = clock.day_of(sortie.planned_for) <= clock.day_of(clock.now()) or stops(UNREAD, standards)
    return (*found, UNREAD) if due and not is_read(sortie, plan) else found


def missing_before_lesson(student: Student, lesson: str, card: Card, at: datetime) -> tuple[Missing, ...]:
    """For a flight at that time. One query where it is kept, ten where it is not."""
    today = clock.day_of(clock.now())

    def count() -> Any:
        # What was asked on other days is not asked again.
        Kept.objects.filter(of=Of.STUDENT, number=student.pk, what__startswith=BEFORE, day__lt=today).delete()
        standards = SchoolStandards.in_force().document()
        return MISSING.dump_python(
            missing_before(lesson, card, _known_of(student, at, standards), standards), mode="json"
        )

    # Longer than what is kept can be called.
    asked = f"{lesson} {card.name} {sorted(card.approved)} {at.isoformat()}"
    what = f"{BEFORE}{blake2s(asked.encode(), digest_size=8).hexdigest()}"
    return MISSING.validate_python(kept(Of.STUDENT, student.pk, what, today, count))


def _known_of(student: Student, at: datetime, standards: Standards) -> Known:
    """Five queries."""
    day, on = clock.day_of(at), enrolment_of(student)
    own = None if on is None else on.course.document()
    school = [version.document() for version in CourseVersion.in_force()]
    ground: dict[str, set[str]] = {}
    for course, item in student.ground_done.values_list("course", "item"):
        ground.setdefault(course, set()).add(item)
    return Known(
        day=day,
        standing=student.stage_reached,
        flown=[f for f in flown_by([student], standards, FLOWN_STAGES)[student.pk] if f.day <= day],
        types=_types_of(student, at),
        courses=[*([own] if own else []), *(c for c in school if own is None or c.key != own.key)],
        own=own,
        ground=ground,
    )


def _types_of(student: Student, at: datetime) -> dict[str, date]:
    """The day of the last flight before that time in each type, by its name. One query."""
    flown = student.sorties.filter(stage__in=FLOWN_STAGES, planned_for__lt=at)
    last = flown.values_list(KeyTextTransform("name", "card_kept")).annotate(Max("planned_for")).order_by()
    return {name or "": clock.day_of(when) for name, when in last}
