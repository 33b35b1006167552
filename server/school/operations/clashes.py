"""Who and what is wanted twice: sorties that overlap in time and share an aircraft, an instructor or a
student."""

from collections.abc import Sequence
from datetime import datetime, timedelta

from django.utils import timezone

from keelturn.progress.booking import overlap
from server.school.models import Aircraft, Person, SchoolStandards, Sortie, Student


def booked_for() -> timedelta:
    """How long a sortie takes its people and its aircraft, by the school's standards. One query."""
    return timedelta(minutes=SchoolStandards.in_force().document().booking_min.value)


def _others(first: datetime, last: datetime, booked: timedelta) -> list[Sortie]:
    """Not signed, and near enough in time to share some with a sortie between first and last. One query."""
    return list(
        Sortie.objects.filter(cancelled=None, planned_for__gte=first - booked, planned_for__lte=last + booked)
        .exclude(stage="signed")
        .select_related("aircraft", "instructor", "student__person")
        .only("planned_for", "aircraft__registration", "instructor__name", "student__person__name")
    )


def clashes_at(at: datetime, aircraft: Aircraft, instructor: Person, student: Student) -> list[str]:
    """What is booked already at that time, in words; names of other students are left out. Two queries."""
    booked = booked_for()
    return [
        words
        for other in _others(at, at, booked)
        if overlap(other.planned_for, at, booked)
        and (words := _words(other, aircraft.pk, instructor.pk, student.pk))
    ]


def clashes_among(sorties: Sequence[Sortie]) -> dict[int, list[str]]:
    """For each of these sorties (by id), what it shares with another sortie of the school at its time. Two
    queries; none for no sorties."""
    if not sorties:
        return {}
    booked, times = booked_for(), [s.planned_for for s in sorties]
    near = _others(min(times), max(times), booked)
    return {
        s.pk: [
            words
            for other in near
            if other.pk != s.pk
            and overlap(other.planned_for, s.planned_for, booked)
            and (words := _words(other, s.aircraft_id, s.instructor_id, s.student_id))
        ]
        for s in sorties
    }


def _words(other: Sortie, aircraft: int, instructor: int, student: int) -> str:
    shared = [
        name
        for name, same in (
            (other.aircraft.registration, other.aircraft_id == aircraft),
            (other.instructor.name, other.instructor_id == instructor),
            (other.student.person.name, other.student_id == student),
        )
        if same
    ]
    return (
        f"{' and '.join(shared)} already booked at {timezone.localtime(other.planned_for):%H:%M}"
        if shared
        else ""
    )
