"""The next hour at which a sortie could be: aircraft and people free, their dates in force, in daylight."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime

from django.utils import timezone

from keelturn.progress.booking import DAYS_AHEAD, in_daylight, slots_ahead
from server import clock
from server.school.models import Aircraft, Person, Place, SchoolStandards, Student
from server.school.operations.clashes import Wanted, near
from server.school.operations.dates import dates_of

NOT_FREE = f"No hour in the next {DAYS_AHEAD} days at which everybody is free, in date and in daylight."


@dataclass(frozen=True)
class NextFree:
    """words: what was looked at to choose it."""

    at: datetime
    words: str


def next_free(aircraft: Aircraft, instructor: Person, student: Student, places: Sequence[Place]) -> NextFree:
    """The next hour that suits, in daylight at whichever of the places the plan chooses; the very next one
    where none does. Four queries."""
    standards = SchoolStandards.in_force().document()
    ahead = list(slots_ahead(timezone.localtime(clock.now()), standards.booking_min.value))
    booked = near(ahead[0].begins, ahead[-1].ends, standards.booking_min.value)
    dates = [d for d in dates_of(student.person_id, instructor.pk, aircraft.pk) if d.stops]
    blocks = [place.document() for place in places]
    for when in ahead:
        light = {block.name: in_daylight(when, block, standards.daylight_min.value) for block in blocks}
        wanted = Wanted(when, aircraft.pk, instructor.pk, student.pk, student.person_id)
        ended = any(d.days_left(clock.day_of(when.begins)) < 0 for d in dates)
        if False not in light.values() and not ended and not booked.clashes(wanted):
            return NextFree(when.begins, f"The next hour at which all are free, {_light_words(light)}.")
    return NextFree(ahead[0].begins, NOT_FREE)


def _light_words(light: Mapping[str, bool | None]) -> str:
    """light: by the name of a place; None where it is not known."""
    known, unknown = ([name for name in light if (light[name] is None) == none] for none in (False, True))
    said = [f"in daylight at {' and '.join(known)}"] if known else []
    said += [f"daylight at {' and '.join(unknown)} not known"] if unknown else []
    return "; ".join(said)
