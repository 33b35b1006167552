"""Who and what is wanted twice: sorties that overlap in time and share an aircraft, an instructor or a
student."""

from collections.abc import Sequence
from datetime import datetime, timedelta

from server.school.models import Aircraft, Person, Sortie, Student

# From the brief to the debrief (common practice, no published source); the aircraft itself is wanted for
# less, but is then being fuelled.
BOOKED = timedelta(minutes=90)


def clashes_at(
    at: datetime, aircraft: Aircraft, instructor: Person, student: Student, but: int | None = None
) -> list[str]:
    """What is booked already at that time, in words; names of other students are left out. One query."""
    others = (
        Sortie.objects.filter(planned_for__gt=at - BOOKED, planned_for__lt=at + BOOKED)
        .exclude(pk=but or 0)
        .exclude(stage="signed")
        .select_related("aircraft", "instructor", "student__person")
    )
    return [words for other in others if (words := _words(other, aircraft.pk, instructor.pk, student.pk))]


def clashes_among(sorties: Sequence[Sortie]) -> dict[int, list[str]]:
    """For each of these sorties (by id), what it shares with another sortie of the school at its time. One
    query."""
    if not sorties:
        return {}
    first, last = min(s.planned_for for s in sorties), max(s.planned_for for s in sorties)
    near = list(
        Sortie.objects.filter(planned_for__gt=first - BOOKED, planned_for__lt=last + BOOKED)
        .exclude(stage="signed")
        .select_related("aircraft", "instructor", "student__person")
    )
    return {
        s.pk: [
            words
            for other in near
            if other.pk != s.pk
            and abs(other.planned_for - s.planned_for) < BOOKED
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
    return f"{' and '.join(shared)} already booked at {other.planned_for:%H:%M} UTC" if shared else ""
