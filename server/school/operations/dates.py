"""Dates of people and aircraft after which nobody flies: kept by the chief, asked for by every flight."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from typing import Any

from django.db import transaction
from django.db.models import Exists, OuterRef, Subquery

from keelturn.figures.catalogue import FIGURES
from keelturn.figures.figure import Family
from keelturn.formats.kept import filled
from keelturn.formats.reading import refused
from keelturn.school.dates import Dated
from keelturn.school.standards import Standards
from server import clock
from server.school.models import Aircraft, AttemptRow, Change, DueDate, Person, Sortie, Student
from server.school.operations.comparing import same_version
from server.school.operations.record import FLOWN_STAGES
from server.school.permissions import require_chief

WHAT = "dates of people and aircraft"
# Those that follow from something else: what they are called, and so many days before they are said.
PACKED, SPUN, WARN = "Parachute repack", "Spins lately", 14
SPINS = tuple(figure.key for figure in FIGURES if figure.family == Family.SPINS)
Kept = tuple[Dated, ...]


def dates_for(sortie: Sortie, aircraft: Aircraft | None = None) -> Kept:
    """Of its student, its instructor and its aircraft (or another): as they were when it was flown, before
    that as they are now. One query, none of a flown one."""
    if sortie.was_flown:
        return filled(Kept, sortie.dates_kept or [])  # type: ignore[no-any-return]
    return dates_of(sortie.student.person_id, sortie.instructor_id, (aircraft or sortie.aircraft).pk)


def dates_of(student: int, instructor: int, aircraft: int) -> Kept:
    """By the ids of the people and the aircraft. One query."""
    return tuple(row.document() for row in DueDate.in_force([student, instructor], [aircraft]))


def ended_by(at: datetime, aircraft: Aircraft, instructor: Person, student: Student) -> list[str]:
    """What has ended by that day, in words. One query."""
    day = clock.day_of(at)
    found = dates_of(student.person_id, instructor.pk, aircraft.pk)
    ended = ((d.title, d.words(day).rstrip(".")) for d in found if d.days_left(day) < 0)
    return [f"{title}: {words[0].lower()}{words[1:]}" for title, words in ended]


def keep_dates(dates: Kept) -> list[dict[str, Any]]:
    """As the sortie remembers them."""
    return [
        {
            "kind": d.kind,
            "of": d.of,
            "what": d.what,
            "until": d.until.isoformat(),
            "warn_days": d.warn_days,
            "stops": d.stops,
        }
        for d in dates
    ]


def all_dates() -> list[DueDate]:
    """Of everybody who belongs to the school and of every aircraft, the next to end first. One query."""
    found = DueDate.objects.select_related("person", "aircraft").exclude(person__is_active=False)
    return list(found.order_by("until", "pk"))


@dataclass(frozen=True)
class Until:
    """A date of a person or an aircraft, by its id."""

    id: int
    date: Dated


def packed_dates(aircraft: Sequence[Aircraft], standards: Standards) -> Iterator[Until]:
    """The last day before each one's parachutes have to be packed anew, where it is known."""
    for one in aircraft:
        if one.parachutes_packed_on is not None:
            last = one.parachutes_packed_on + timedelta(days=int(standards.parachute_days.value))
            yield Until(one.pk, Dated("aircraft", one.registration, PACKED, last, WARN, True))


def spun_dates(instructors: Sequence[Person], standards: Standards) -> Iterator[Until]:
    """The last day on which each one's last spin is not too long ago, where there is one. It says and does
    not stop: a flight without spins does not ask for it. One query."""
    spins = AttemptRow.objects.filter(sortie=OuterRef("pk"), figure__in=SPINS)
    # The latest of each: what was flown before it is not looked at.
    flown = Sortie.objects.filter(Exists(spins), instructor=OuterRef("pk"), stage__in=FLOWN_STAGES)
    last = Subquery(flown.order_by("-planned_for").values("planned_for")[:1])
    found = Person.objects.filter(pk__in=[one.pk for one in instructors]).annotate(spun=last)
    spun = {pk: clock.day_of(at) for pk, at in found.values_list("pk", "spun") if at is not None}
    for one in instructors:
        if one.pk in spun:
            until = spun[one.pk] + timedelta(days=int(standards.spin_days.value))
            yield Until(one.pk, Dated("person", one.name, SPUN, until, WARN, False))


@dataclass(frozen=True)
class DateSaid:
    """What is entered of one."""

    what: str
    until: date
    warn_days: int
    stops: bool


def require_of_one(person: Person | None, aircraft: Aircraft | None) -> None:
    """Raises Refused."""
    if (person is None) == (aircraft is None):
        raise refused("of", "it is of nobody, or of two", "Choose one person or one aircraft.")


def save_date(chief: Person, row: DueDate, version: int, said: DateSaid) -> DueDate:
    """A new one where `row` has no key yet; of whom or what it is does not change. Raises Denied, Refused."""
    require_chief(chief, WHAT)
    require_of_one(row.person, row.aircraft)
    same = DueDate.objects.filter(person=row.person, aircraft=row.aircraft, what__iexact=said.what)
    with transaction.atomic():
        if same.exclude(pk=row.pk).exists():
            raise refused(
                "what", f"{row.of} has a date for '{said.what}' already", "Change that one, or say what else."
            )
        before = None if row.pk is None else _said(row)
        if row.pk is not None:
            same_version(DueDate.objects.get(pk=row.pk).version, version)
            row.version += 1
        row.what, row.until, row.warn_days, row.stops = said.what, said.until, said.warn_days, said.stops
        row.save()
        _keep(chief, row, before, _said(row))
    return row


def remove_date(chief: Person, row: DueDate, version: int) -> None:
    """Raises Denied, Refused."""
    require_chief(chief, WHAT)
    with transaction.atomic():
        same_version(DueDate.objects.get(pk=row.pk).version, version)
        _keep(chief, row, _said(row), None)
        row.delete()


def _said(row: DueDate) -> dict[str, Any]:
    after = "stops the flight" if row.stops else "is said"
    words = f"{row.what} until {row.until:%d %b %Y}, said {row.warn_days} days before, after it {after}"
    return {"date": words}


def _keep(chief: Person, row: DueDate, before: Any, after: Any) -> None:
    """Of somebody under their own name, so that erasing them takes these along."""
    if before != after:
        subject = f"person {row.person_id}" if row.person_id else f"dates of {row.of}"
        Change.objects.create(subject=subject, by=chief, before=before, after=after)
