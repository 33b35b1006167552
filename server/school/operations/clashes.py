"""Who and what is wanted twice: sorties that overlap in time and share an aircraft, an instructor or a
student; and who or what is not to be had."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from django.utils import timezone

from keelturn.progress.booking import MOST_MIN, Slot, slot
from server.school.models import Aircraft, Person, SchoolStandards, Sortie, Student, Taken


def usual_min() -> float:
    """How many minutes a sortie takes its people and its aircraft, by the school's standards. One query."""
    return SchoolStandards.in_force().document().booking_min.value


def slot_of(sortie: Sortie, usual: float) -> Slot:
    """When it is booked."""
    return slot(sortie.planned_for, sortie.booked_min or usual)


@dataclass(frozen=True)
class Wanted:
    """A booking as it is, or as it would be."""

    when: Slot
    aircraft: int
    instructor: int
    student: int
    student_person: int
    pk: int | None = None


@dataclass(frozen=True)
class _Near:
    """Everything that is booked or taken near some times."""

    sorties: list[tuple[Sortie, Slot]]
    taken: list[Taken]
    usual: float

    def clashes(self, wanted: Wanted) -> list[str]:
        return [*self._booked(wanted), *self._away(wanted)]

    def _booked(self, wanted: Wanted) -> Iterator[str]:
        for other, when in self.sorties:
            if other.pk != wanted.pk and when.shares(wanted.when):
                shared = [
                    name
                    for name, same in (
                        (other.aircraft.registration, other.aircraft_id == wanted.aircraft),
                        (other.instructor.name, other.instructor_id == wanted.instructor),
                        (other.student.person.name, other.student_id == wanted.student),
                    )
                    if same
                ]
                if shared:
                    yield f"{' and '.join(shared)} already booked at {_time(other.planned_for)}"

    def _away(self, wanted: Wanted) -> Iterator[str]:
        people = (wanted.instructor, wanted.student_person)
        for one in self.taken:
            theirs = one.aircraft_id == wanted.aircraft or one.person_id in people
            if theirs and Slot(one.begins, one.ends).shares(wanted.when):
                yield f"{one.of} not to be had {_from_to(one)}: {one.words}"


def _time(at: datetime) -> str:
    return f"{timezone.localtime(at):%H:%M}"


def _from_to(one: Taken) -> str:
    begins, ends = timezone.localtime(one.begins), timezone.localtime(one.ends)
    if begins.date() == ends.date():
        return f"{begins:%H:%M} to {ends:%H:%M}"
    return f"{begins:%a %d %b %H:%M} to {ends:%a %d %b %H:%M}"


def near(first: datetime, last: datetime, usual: float) -> _Near:
    """Sorties that are not signed or cancelled, and what is taken, of which some could lie between first and
    last. Two queries."""
    longest = timedelta(minutes=MOST_MIN)
    sorties = (
        Sortie.objects.filter(cancelled=None, planned_for__gte=first - longest, planned_for__lt=last)
        .exclude(stage="signed")
        .select_related("aircraft", "instructor", "student__person")
        .only(
            "planned_for",
            "booked_min",
            "aircraft__registration",
            "instructor__name",
            "student__person__name",
        )
    )
    taken = Taken.objects.filter(ends__gt=first, begins__lt=last).select_related("person", "aircraft")
    return _Near([(sortie, slot_of(sortie, usual)) for sortie in sorties], list(taken), usual)


def clashes_at(at: datetime, aircraft: Aircraft, instructor: Person, student: Student) -> list[str]:
    """What is booked already, or not to be had, at that time, in words; names of other students are left
    out. Three queries."""
    usual = usual_min()
    when = slot(at, usual)
    wanted = Wanted(when, aircraft.pk, instructor.pk, student.pk, student.person_id)
    return near(when.begins, when.ends, usual).clashes(wanted)


def clashes_among(sorties: Sequence[Sortie]) -> dict[int, list[str]]:
    """For each of these sorties (by id), what it shares with another sortie of the school at its time, or who
    is not to be had. Three queries; none for no sorties."""
    if not sorties:
        return {}
    times = [s.planned_for for s in sorties]
    found = near(min(times), max(times) + timedelta(minutes=MOST_MIN), usual_min())
    return {
        s.pk: found.clashes(
            Wanted(
                slot_of(s, found.usual),
                s.aircraft_id,
                s.instructor_id,
                s.student_id,
                s.student.person_id,
                s.pk,
            )
        )
        for s in sorties
    }
