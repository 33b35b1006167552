"""When somebody or an aircraft is not to be had: entered by hand, or read from a calendar's file."""

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date, datetime, time, timedelta

from django.db import transaction
from django.utils import timezone

from keelturn.formats.reading import refused
from server import clock
from server.school.models import Aircraft, Deed, DeedKind, Person, Taken
from server.school.operations.dates import require_of_one
from server.school.permissions import Denied

# So far ahead repeated events are read, and so many of a file at most.
AHEAD = timedelta(days=400)
MOST = 500
# RFC 5545: how we call our own bookings.
OURS = "@keelturn.invalid"
LONGEST = timedelta(days=400)
NO_CALENDAR = "this is no iCalendar file"


@dataclass(frozen=True)
class Away:
    """A time as it was read. left_out: why it is not taken over, nothing where it is."""

    begins: datetime
    ends: datetime
    words: str
    uid: str
    left_out: str = ""


def may_take(asker: Person, person: Person | None, aircraft: Aircraft | None) -> bool:
    """Everybody for themselves; who teaches, for aircraft and students too; the chief for all."""
    mine = person is not None and person.pk == asker.pk
    return mine or asker.is_chief or (asker.teaches and (person is None or not person.teaches))


def may_see(asker: Person, taken: Taken) -> bool:
    return asker.teaches or taken.person_id == asker.pk


def require_may_take(asker: Person, person: Person | None, aircraft: Aircraft | None) -> None:
    """Raises Denied, Refused."""
    require_of_one(person, aircraft)
    if not may_take(asker, person, aircraft):
        raise Denied("only they themselves or the chief instructor say when they are not to be had")


def take(
    asker: Person,
    person: Person | None,
    aircraft: Aircraft | None,
    begins: datetime,
    ends: datetime,
    words: str,
) -> Taken:
    """Raises Denied, Refused."""
    require_may_take(asker, person, aircraft)
    if not timedelta() < ends - begins <= LONGEST:
        raise refused("ends", "it ends before it begins, or after more than 400 days", "Give a later end.")
    with transaction.atomic():
        made = Taken.objects.create(
            person=person, aircraft=aircraft, begins=begins, ends=ends, words=words, by=asker
        )
        _note(asker, made, f"{_days(made)}: {words}")
    return made


def give_back(asker: Person, taken: Taken) -> None:
    """Raises Denied."""
    require_may_take(asker, taken.person, taken.aircraft)
    with transaction.atomic():
        _note(asker, taken, f"{_days(taken)}, taken back: {taken.words}")
        taken.delete()


def _days(taken: Taken) -> str:
    """Without whose: the subject says so, and lasts longer than a name."""
    return f"from {timezone.localtime(taken.begins):%d %b %H:%M}"


def _note(asker: Person, taken: Taken, words: str) -> None:
    subject = f"person {taken.person_id}" if taken.person_id else f"aircraft {taken.aircraft_id}"
    Deed.note(asker, DeedKind.AWAY, subject, words)


def read_calendar(content: bytes, now: datetime) -> list[Away]:
    """The times at which a calendar's file says that somebody is busy, from today on, repeated ones each by
    itself, in their order; what is left out is among them, with why. Raises Refused."""
    from icalendar import Calendar

    try:
        calendar = Calendar.from_ical(content)
    except (ValueError, IndexError, KeyError, TypeError, AttributeError) as error:
        raise refused("file", NO_CALENDAR, "Export it as .ics, and choose that file.") from error
    if isinstance(calendar, list) or calendar.name != "VCALENDAR":
        raise refused("file", NO_CALENDAR, "Export it as .ics, and choose that file.")
    return sorted(_events(calendar, now), key=lambda one: one.begins)


def _events(calendar: object, now: datetime) -> Iterator[Away]:
    import recurring_ical_events

    first, last = clock.morning_of(now), now + AHEAD
    try:
        found = recurring_ical_events.of(calendar, skip_bad_series=True).between(first, last)
    except (ValueError, KeyError, TypeError, AttributeError, OverflowError) as error:
        raise refused("file", f"its events cannot be read ({error})", "Export it anew.") from error
    if len(found) > MOST:
        raise refused("file", f"it has {len(found)} events, more than {MOST}", "Export fewer days.")
    for event in found:
        begins, ends = _moment(event.start), _moment(event.end)
        words = " ".join(str(event.get("summary", "")).split())[:120] or "Busy"
        uid = str(event.get("uid", ""))[:250]
        yield Away(begins, ends, words, uid, _why_not(event, uid, begins, ends))


def _why_not(event: object, uid: str, begins: datetime, ends: datetime) -> str:
    said = event.get  # type: ignore[attr-defined]
    if uid.endswith(OURS):
        return "a booking of this school: moved here, not there"
    if str(said("status", "")).upper() == "CANCELLED":
        return "cancelled"
    if str(said("transp", "")).upper() == "TRANSPARENT":
        return "shown as free"
    return "" if ends > begins else "it takes no time"


def _moment(at: date | datetime) -> datetime:
    """A day begins with its midnight, a time without a zone is the school's."""
    zone = timezone.get_current_timezone()
    if not isinstance(at, datetime):
        return datetime.combine(at, time(), zone)
    return at if at.tzinfo is not None else at.replace(tzinfo=zone)


def take_file(
    asker: Person,
    person: Person | None,
    aircraft: Aircraft | None,
    name: str,
    found: list[Away],
    now: datetime,
) -> int:
    """What was read in the place of what calendars' files said of the same before, from today on; how many.
    Raises Denied, Refused."""
    require_may_take(asker, person, aircraft)
    with transaction.atomic():
        earlier = Taken.objects.filter(person=person, aircraft=aircraft, ends__gt=clock.morning_of(now))
        earlier.exclude(file="").delete()
        made = [
            Taken(
                person=person,
                aircraft=aircraft,
                begins=one.begins,
                ends=one.ends,
                words=one.words,
                uid=one.uid,
                file=name,
                by=asker,
            )
            for one in found
            if not one.left_out
        ]
        Taken.objects.bulk_create(made)
        _note(asker, Taken(person=person, aircraft=aircraft), f"{len(made)} from a file")
    return len(made)
