"""AskKind is ahead in the demo school: bookings, dates, and who is not to be had."""

from collections.abc import Callable
from datetime import datetime, timedelta

from keelturn.progress.requirements import AskKind
from server.school.demo.history import at_hour
from server.school.models import Aircraft, DueDate, Person, Sortie
from server.school.operations.dates import DateSaid, save_date
from server.school.operations.requirements import Said, state
from server.school.operations.taken import take

# In days from today: student, instructor, aircraft, hour, lesson.
BOOKED = (
    (1, "una", "bryn", "QX-BRO", 10, "stalls"),
    (1, "corin", "tam", "QX-ROE", 13, "spins_both_ways"),
    (2, "isla", "ilse", "QX-COR", 11, "stalls"),
    (3, "tavish", "bryn", "QX-ROE", 10, "stalls"),
    (3, "sunniva", "tam", "QX-COR", 12, "stalls"),
)
# Whose, what, days from today until it ends, said so many days before, whether it stops a flight.
DATES = (
    ("tam", "Medical", 21, 14, True),
    ("ilse", "Medical", 160, 30, True),
    ("morag", "Medical", 95, 30, True),
    ("bryn", "Medical", 240, 30, True),
    ("bryn", "Spin check with the chief", 6, 5, True),
    ("tam", "Spin check with the chief", 88, 14, True),
    ("ilse", "Spin check with the chief", 130, 14, True),
    ("petra", "Medical", 75, 30, True),
    ("QX-ROE", "Inspection", 47, 21, True),
    ("QX-BRO", "Inspection", 12, 10, True),
    ("QX-COR", "Inspection", 118, 21, True),
    ("QX-COR", "g meter check", -3, 14, False),
    ("QX-BRO", "Harness, rear seat", 400, 30, True),
)
# Whose, from and to in days and hours from today, why.
AWAY = (
    ("QX-BRO", (2, 8), (3, 18), "Inspection, in the workshop"),
    ("bryn", (4, 0), (6, 0), "Away"),
    ("ilse", (3, 13), (3, 18), "Dentist"),
)


# Whose, what it is toward, who signed, days ago.
SIGNED = (
    ("tam", "spin_authority", "Morag Sellwyn, chief instructor", 210),
    ("ilse", "spin_authority", "Morag Sellwyn, chief instructor", 180),
    ("bryn", "spin_authority", "Morag Sellwyn, chief instructor", 95),
)


def is_laid_out(people: dict[str, Person], now: datetime) -> bool:
    day, student, _, _, hour, _ = BOOKED[0]
    there = Sortie.objects.filter(student__person=people[student], planned_for=at_hour(now, -day, hour))
    return there.exists()


def lay_out(people: dict[str, Person], now: datetime, new: Callable[..., Sortie]) -> None:
    """new: plans one, as the demo does."""
    chief = people["morag"]
    for day, student, instructor, registration, hour, lesson in BOOKED:
        new(people, student, instructor, registration, 0, at_hour(now, -day, hour), lesson)
    for whose, what, days, warn_days, stops in DATES:
        person, aircraft = _of(people, whose)
        until = (now + timedelta(days=days)).date()
        row = DueDate(person=person, aircraft=aircraft)
        save_date(chief, row, 1, DateSaid(what, until, warn_days, stops))
    for whose, requirement, signed_by, days in SIGNED:
        on = (now - timedelta(days=days)).date()
        state(chief, people[whose], Said(requirement, AskKind.SIGNATURE, 0, on, signed_by, ""))
    for whose, (from_day, from_hour), (to_day, to_hour), words in AWAY:
        begins, ends = at_hour(now, -from_day, from_hour), at_hour(now, -to_day, to_hour)
        take(chief, *_of(people, whose), begins, ends, words)


def _of(people: dict[str, Person], whose: str) -> tuple[Person | None, Aircraft | None]:
    person = people.get(whose)
    return person, None if person else Aircraft.objects.get(registration=whose)
