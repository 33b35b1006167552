"""The booking as an iCalendar event (RFC 5545), by the `icalendar` library."""

from icalendar import Calendar, Event

from server.school.handouts.letters import printable
from server.school.models import Sortie
from server.school.operations.clashes import booked_for
from server.school.operations.showing import stored_line


def booking_ics(sortie: Sortie) -> bytes:
    calendar, event, line = Calendar(), Event(), stored_line(sortie)
    calendar.add("prodid", "-//Keel Turn//Booking//EN")
    calendar.add("version", "2.0")
    event.add("uid", f"sortie-{sortie.pk}@keelturn.invalid")
    event.add("dtstamp", sortie.changed_at)
    event.add("dtstart", sortie.planned_for)
    event.add("dtend", sortie.planned_for + booked_for())
    event.add("sequence", sortie.version)
    event.add("status", "CONFIRMED" if sortie.cancelled is None else "CANCELLED")
    figures = f"{line['figures']} figures. Brief to debrief."
    for name, words in (
        ("summary", f"{line['lesson_name']}: {line['student']} with {line['instructor']}"),
        ("location", line["place"]),
        ("description", f"{line['aircraft']} {line['aircraft_name']}, {figures}"),
    ):
        event.add(name, printable(words))
    calendar.add_component(event)
    found: bytes = calendar.to_ical()
    return found
