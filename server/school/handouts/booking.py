"""The booking as an iCalendar event (RFC 5545), by the `icalendar` library."""

from icalendar import Calendar, Event

from keelturn.progress.lessons import lesson_of
from server.school.models import Sortie
from server.school.operations.clashes import booked_for


def booking_ics(sortie: Sortie) -> bytes:
    calendar, event = Calendar(), Event()
    calendar.add("prodid", "-//Keel Turn//Booking//EN")
    calendar.add("version", "2.0")
    lesson = lesson_of(sortie.plan["lesson"]).name
    event.add("uid", f"sortie-{sortie.pk}@keelturn.invalid")
    event.add("dtstamp", sortie.changed_at)
    event.add("dtstart", sortie.planned_for)
    event.add("dtend", sortie.planned_for + booked_for())
    event.add("sequence", sortie.version)
    event.add("summary", f"{lesson}: {sortie.student.person.name} with {sortie.instructor.name}")
    event.add("location", sortie.place.name)
    figures = f"{len(sortie.plan['figures'])} figures"
    event.add(
        "description",
        f"{sortie.aircraft.registration} {sortie.aircraft.card['name']}, {figures}. Brief to debrief.",
    )
    calendar.add_component(event)
    found: bytes = calendar.to_ical()
    return found
