"""One week of the school: what is booked in what and with whom, the light of each day, until when people and
aircraft are current, and when they are not to be had."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date, datetime, time, timedelta

from django.db.models import Max, Q, QuerySet
from django.utils import timezone

from keelturn.formats.reading import Refused
from keelturn.school.dates import Dated
from keelturn.school.place import Place as PlaceDocument
from keelturn.school.standards import Standards
from keelturn.weather.sun import sunrise, sunset
from server.school.models import Aircraft, DueDate, Person, Place, SchoolStandards, Sortie, Student, Taken
from server.school.operations.clashes import clashes_among
from server.school.operations.dates import Until, packed_dates, spun_dates
from server.school.operations.record import FLOWN_STAGES
from server.school.permissions import sorties_seen_by

DAYS = 7
STANDING = "Standing '{}'"


@dataclass(frozen=True)
class Light:
    """Of one day at one place: sunrise and sunset, none where the place has no position or the sun does not
    rise or set."""

    day: date
    place: int
    rises: datetime | None
    sets: datetime | None


@dataclass(frozen=True)
class Week:
    """last_flew: when each student of a booking flew last, by the student's id."""

    monday: date
    standards: Standards
    aircraft: list[Aircraft]
    instructors: list[Person]
    sorties: list[Sortie]
    clashes: dict[int, list[str]]
    taken: list[Taken]
    light: list[Light]
    until: list[Until]
    last_flew: dict[int, datetime]


def monday_of(day: date) -> date:
    return day - timedelta(days=day.weekday())


def week_of(person: Person, day: date) -> Week:
    """The week in which this day lies, as this person sees it: a student their own bookings. The number of
    queries does not rise with that of the sorties."""
    monday = monday_of(day)
    begins, ends = _morning(monday), _morning(monday + timedelta(days=DAYS))
    seen = sorties_seen_by(person).filter(planned_for__gte=begins, planned_for__lt=ends)
    sorties = list(seen.select_related("signature").defer("signature__document"))
    standards, aircraft = (
        SchoolStandards.in_force().document(),
        list(Aircraft.objects.order_by("registration")),
    )
    instructors = _instructors(sorties)
    students = {s.student_id: s.student for s in sorties}
    open_ones = [s for s in sorties if s.stage != "signed" and s.cancelled is None]
    return Week(
        monday,
        standards,
        aircraft,
        instructors,
        sorties,
        clashes_among(open_ones) if person.teaches else {},
        list(
            _taken(person).filter(ends__gt=begins, begins__lt=ends).select_related("person", "aircraft", "by")
        ),
        [light for place in Place.objects.order_by("pk") for light in _light(place, monday)],
        list(_until(person, aircraft, instructors, list(students.values()), standards)),
        _last_flew(list(students)),
    )


def _morning(day: date) -> datetime:
    return datetime.combine(day, time(), timezone.get_current_timezone())


def _instructors(sorties: Sequence[Sortie]) -> list[Person]:
    """Who teaches, and who does not any more but has something booked. One query."""
    booked = {s.instructor_id for s in sorties}
    teaches = Q(is_active=True, role__in=("instructor", "chief"))
    return list(Person.objects.filter(teaches | Q(pk__in=booked)).order_by("name"))


def _taken(person: Person) -> QuerySet[Taken]:
    return Taken.objects.all() if person.teaches else Taken.objects.filter(person=person)


def _light(place: Place, monday: date) -> Iterator[Light]:
    try:
        where: PlaceDocument | None = place.document()
    except (Refused, ValueError):
        where = None
    for n in range(DAYS):
        noon = _morning(monday + timedelta(days=n)) + timedelta(hours=12)
        if where is None or where.latitude_deg is None or where.longitude_deg is None:
            yield Light(noon.date(), place.pk, None, None)
        else:
            at = where.latitude_deg, where.longitude_deg, noon
            yield Light(noon.date(), place.pk, sunrise(*at), sunset(*at))


def _until(
    person: Person,
    aircraft: Sequence[Aircraft],
    instructors: Sequence[Person],
    students: Sequence[Student],
    standards: Standards,
) -> Iterator[Until]:
    """What ends, of whom. A student's standing is of the school, so it does not stop. Two queries."""
    people = {p.pk for p in instructors} | {s.person_id for s in students} if person.teaches else {person.pk}
    for row in DueDate.in_force(list(people), [a.pk for a in aircraft]):
        yield Until(row.person_id or row.aircraft_id or 0, row.document())
    yield from packed_dates(aircraft, standards)
    yield from spun_dates(instructors, standards)
    for student in students:
        now = student.stage_reached
        for day, standing, _ in student.ahead if not student.stage else ():
            if standing != now:
                last, what = day - timedelta(days=1), STANDING.format(now)
                yield Until(student.person_id, Dated("person", student.person.name, what, last, 0, False))
                break


def _last_flew(students: list[int]) -> dict[int, datetime]:
    """One query."""
    flown = Sortie.objects.filter(student__in=students, stage__in=FLOWN_STAGES).values("student").order_by()
    return {row["student"]: row["last"] for row in flown.annotate(last=Max("planned_for"))}
