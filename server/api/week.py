"""The week: bookings by aircraft and instructor, who is not to be had, and the dates of people and
aircraft."""

from datetime import date

from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404
from ninja import Router, Status

from keelturn.formats.reading import refused
from keelturn.progress.booking import LEAST_MIN, MOST_MIN, STEP_MIN
from keelturn.progress.due import LONG_DAYS
from keelturn.progress.stages import Act
from server import clock
from server.api.doors import REFUSALS, Unseen, asking
from server.api.recordings import A_FILE, bytes_sent, shown_name
from server.api.schemas import Id
from server.api.sorties import line_read
from server.api.week_schemas import (
    AwayOut,
    BookedSortie,
    CalendarRead,
    DateIn,
    DateOut,
    DatesOut,
    LaneOut,
    LightOut,
    TakenIn,
    TakenOut,
    UntilOut,
    WeekOut,
)
from server.school.models import Aircraft, DueDate, Person, SchoolStandards, Sortie, Taken
from server.school.operations import dates as dates_kept
from server.school.operations import taken as away
from server.school.operations.clashes import slot_of
from server.school.operations.week import Week, week_of
from server.school.permissions import instructs, may, require_instructor

router = Router(tags=["week"])
# A calendar's file is some thousand events at most.
MOST_CALENDAR = 5_000_000


@router.get("/week", response={200: WeekOut, **REFUSALS})
def week(request: HttpRequest, day: date | None = None) -> WeekOut:
    """That of this day, or today's."""
    person, now = asking(request), clock.now()
    if day is not None and not 2000 <= day.year <= 2100:
        raise refused("day", f"{day:%d %b %Y} is no day to plan for", "Give one of this century.")
    found = week_of(person, day or clock.day_of(now))
    usual = found.standards.booking_min.value
    return WeekOut(
        now=now,
        monday=found.monday,
        usual_min=usual,
        least_min=LEAST_MIN,
        most_min=MOST_MIN,
        step_min=STEP_MIN,
        kept_min=found.standards.daylight_min.value,
        long_days=LONG_DAYS,
        aircraft=[_aircraft(a) for a in found.aircraft],
        instructors=[LaneOut(id=p.pk, name=p.name) for p in found.instructors],
        sorties=[_booked(person, s, found, usual) for s in found.sorties],
        taken=[_taken(person, one) for one in found.taken],
        light=[
            LightOut(day=one.day, place_id=one.place, rises=one.rises, sets=one.sets) for one in found.light
        ],
        until=[UntilOut(id=one.id, date=one.date) for one in found.until],
    )


def _aircraft(found: Aircraft) -> LaneOut:
    card = found.card if isinstance(found.card, dict) else {}
    return LaneOut(id=found.pk, name=found.registration, more=str(card.get("name", "")))


def _booked(person: Person, sortie: Sortie, found: Week, usual: float) -> BookedSortie:
    when = slot_of(sortie, usual)
    return BookedSortie(
        **line_read(sortie),
        version=sortie.version,
        begins=when.begins,
        ends=when.ends,
        aircraft_id=sortie.aircraft_id,
        instructor_id=sortie.instructor_id,
        student_person=sortie.student.person_id,
        place_id=sortie.place_id,
        mine=not instructs(person, sortie) or sortie.instructor_id == person.pk,
        may_book=may(person, sortie, Act.BOOK),
        clashes=found.clashes.get(sortie.pk, []),
        last_flew=found.last_flew.get(sortie.student_id),
    )


def _taken(person: Person, one: Taken) -> TakenOut:
    return TakenOut(
        id=one.pk,
        person_id=one.person_id,
        aircraft_id=one.aircraft_id,
        of=one.of,
        begins=one.begins,
        ends=one.ends,
        words=one.words,
        file=one.file,
        by=one.by.name,
        may_remove=away.may_take(person, one.person, one.aircraft),
    )


def _of(person_id: int | None, aircraft_id: int | None) -> tuple[Person | None, Aircraft | None]:
    """Raises Http404."""
    active = Person.objects.filter(is_active=True)
    return (
        None if person_id is None else get_object_or_404(active, pk=person_id),
        None if aircraft_id is None else get_object_or_404(Aircraft, pk=aircraft_id),
    )


@router.post("/taken", response={201: TakenOut, **REFUSALS})
def take(request: HttpRequest, data: TakenIn) -> Status[TakenOut]:
    """Somebody, or an aircraft, is not to be had."""
    person, of = asking(request), _of(data.person_id, data.aircraft_id)
    return Status(201, _taken(person, away.take(person, *of, data.begins, data.ends, data.words.strip())))


@router.delete("/taken/{taken_id}", response={204: None, **REFUSALS})
def give_back(request: HttpRequest, taken_id: Id) -> HttpResponse:
    found = Taken.objects.filter(pk=taken_id).select_related("person", "aircraft").first()
    if found is None or not away.may_see(asking(request), found):
        raise Unseen("time")
    away.give_back(asking(request), found)
    return HttpResponse(status=204)


@router.post("/taken-file", response={200: CalendarRead, **REFUSALS}, openapi_extra=A_FILE)
def take_file(
    request: HttpRequest,
    name: str = "",
    person_id: Id | None = None,
    aircraft_id: Id | None = None,
    store: bool = False,
) -> CalendarRead:
    """An iCalendar file as the body: what it says, and, where `store`, in the place of what files said of the
    same before."""
    asker, of = asking(request), _of(person_id, aircraft_id)
    away.require_may_take(asker, *of)
    now = clock.now()
    found = away.read_calendar(bytes_sent(request, MOST_CALENDAR), now)
    stored = away.take_file(asker, *of, shown_name(name), found, now) if store else None
    return CalendarRead(
        of=of[0].name if of[0] else of[1].registration if of[1] else "",
        found=[
            AwayOut(begins=one.begins, ends=one.ends, words=one.words, left_out=one.left_out) for one in found
        ],
        stored=stored,
    )


@router.get("/dates", response={200: DatesOut, **REFUSALS})
def dates(request: HttpRequest) -> DatesOut:
    """Of everybody and every aircraft, the next to end first. Five queries."""
    person, now = asking(request), clock.now()
    require_instructor(person)
    today = clock.day_of(now)
    standards = SchoolStandards.in_force().document()
    aircraft = list(Aircraft.objects.order_by("registration"))
    people = list(Person.objects.filter(is_active=True).order_by("name"))
    teaching = [p for p in people if p.teaches]
    found = [_date(row, today) for row in dates_kept.all_dates()] + [
        DateOut(
            id=None,
            person_id=one.id if one.date.kind == "person" else None,
            aircraft_id=one.id if one.date.kind == "aircraft" else None,
            version=1,
            date=one.date,
            days_left=one.date.days_left(today),
        )
        for one in (
            *dates_kept.packed_dates(aircraft, standards),
            *dates_kept.spun_dates(teaching, standards),
        )
    ]
    return DatesOut(
        now=now,
        may_change=person.is_chief,
        dates=sorted(found, key=lambda d: (d.date.until, d.date.of)),
        people=[LaneOut(id=p.pk, name=p.name, more=p.role) for p in people],
        aircraft=[_aircraft(a) for a in aircraft],
    )


def _date(row: DueDate, today: date) -> DateOut:
    return DateOut(
        id=row.pk,
        person_id=row.person_id,
        aircraft_id=row.aircraft_id,
        version=row.version,
        date=row.document(),
        days_left=row.document().days_left(today),
    )


@router.post("/dates", response={201: DatesOut, **REFUSALS})
def add_date(request: HttpRequest, data: DateIn) -> Status[DatesOut]:
    person, aircraft = _of(data.person_id, data.aircraft_id)
    dates_kept.save_date(asking(request), DueDate(person=person, aircraft=aircraft), 1, _said(data))
    return Status(201, dates(request))


@router.put("/dates/{date_id}", response={200: DatesOut, **REFUSALS})
def save_date(request: HttpRequest, date_id: Id, data: DateIn) -> DatesOut:
    dates_kept.save_date(asking(request), _the_date(request, date_id), data.version, _said(data))
    return dates(request)


@router.delete("/dates/{date_id}", response={200: DatesOut, **REFUSALS})
def remove_date(request: HttpRequest, date_id: Id, version: Id) -> DatesOut:
    dates_kept.remove_date(asking(request), _the_date(request, date_id), version)
    return dates(request)


def _the_date(request: HttpRequest, date_id: int) -> DueDate:
    """Raises Denied, Unseen."""
    require_instructor(asking(request))
    found = DueDate.objects.filter(pk=date_id).select_related("person", "aircraft").first()
    if found is None:
        raise Unseen("date")
    return found


def _said(data: DateIn) -> dates_kept.DateSaid:
    return dates_kept.DateSaid(data.what.strip(), data.until, data.warn_days, data.stops)
