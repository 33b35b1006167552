"""Bookings as iCalendar events (RFC 5545), by the `icalendar` library: one, or all of somebody's."""

from collections.abc import Iterable
from datetime import timedelta

from icalendar import Calendar, Event

from server.school.handouts.letters import printable
from server.school.models import Sortie
from server.school.operations.clashes import slot_of, usual_min
from server.school.operations.showing import stored_line


def booking_ics(sortie: Sortie) -> bytes:
    return _calendar([sortie], "Booking")


def calendar_ics(sorties: Iterable[Sortie], name: str) -> bytes:
    """What a calendar subscribes to. name: what it is called there."""
    return _calendar(sorties, "Bookings", name)


def _calendar(sorties: Iterable[Sortie], what: str, name: str = "") -> bytes:
    calendar, usual = Calendar(), usual_min()
    calendar.add("prodid", f"-//Keel Turn//{what}//EN")
    calendar.add("version", "2.0")
    if name:
        # RFC 7986, and what calendars read that are older than it.
        calendar.add("name", printable(name))
        calendar.add("x-wr-calname", printable(name))
        calendar.add("refresh-interval", timedelta(hours=1), {"value": "DURATION"})
    for sortie in sorties:
        calendar.add_component(_event(sortie, usual))
    found: bytes = calendar.to_ical()
    return found


def _event(sortie: Sortie, usual: float) -> Event:
    event, line, when = Event(), stored_line(sortie), slot_of(sortie, usual)
    event.add("uid", f"sortie-{sortie.pk}@keelturn.invalid")
    event.add("dtstamp", sortie.changed_at)
    event.add("dtstart", when.begins)
    event.add("dtend", when.ends)
    event.add("sequence", sortie.version)
    event.add("status", "CONFIRMED" if sortie.cancelled is None else "CANCELLED")
    figures = f"{line['figures']} figures. Brief to debrief."
    for name, words in (
        ("summary", f"{line['lesson_name']}: {line['student']} with {line['instructor']}"),
        ("location", line["place"]),
        ("description", f"{line['aircraft']} {line['aircraft_name']}, {figures}"),
    ):
        event.add(name, printable(words))
    return event
