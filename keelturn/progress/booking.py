"""When the next sortie could be, and how two of them are told to overlap (common practice, no published
source)."""

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import datetime, timedelta

from keelturn.school.place import Place
from keelturn.weather.sun import sunrise, sunset

# Hours of the school's own day in which a sortie is proposed without being asked for.
FIRST_HOUR, LAST_HOUR = 10, 14


def next_slot(now: datetime) -> datetime:
    """The next whole hour; too early, this morning's usual hour; from the afternoon on, tomorrow's: the
    evening before is when plans are made. `now` in the school's zone. Before the first hour it is dark in
    winter."""
    hour = (now + timedelta(hours=1)).replace(minute=0, second=0, microsecond=0)
    if FIRST_HOUR <= hour.hour <= LAST_HOUR:
        return hour
    day = hour if hour.hour < FIRST_HOUR else hour + timedelta(days=1)
    return day.replace(hour=FIRST_HOUR)


# A booking takes at least and at most so many minutes, and begins and ends on steps of so many.
LEAST_MIN, MOST_MIN, STEP_MIN = 15, 720, 15


@dataclass(frozen=True, slots=True)
class Slot:
    """From and until when somebody or something is taken."""

    begins: datetime
    ends: datetime

    def shares(self, other: "Slot") -> bool:
        """Whether they share time; one that begins as the other ends does not."""
        return self.begins < other.ends and other.begins < self.ends

    @property
    def minutes(self) -> float:
        return (self.ends - self.begins).total_seconds() / 60.0


def slot(begins: datetime, minutes: float) -> Slot:
    return Slot(begins, begins + timedelta(minutes=minutes))


# For so many days a free hour is looked for.
DAYS_AHEAD = 21


def slots_ahead(now: datetime, minutes: float) -> Iterator[Slot]:
    """Whole hours in which a sortie is proposed, the next first."""
    begins, last = next_slot(now), now + timedelta(days=DAYS_AHEAD)
    while begins <= last:
        yield slot(begins, minutes)
        begins = next_slot(begins)


def in_daylight(when: Slot, place: Place, kept_min: float) -> bool | None:
    """Whether it lies between sunrise and so many minutes before sunset; None where the place has no
    position, or the sun does not rise or set that day."""
    if place.latitude_deg is None or place.longitude_deg is None:
        return None
    rises = sunrise(place.latitude_deg, place.longitude_deg, when.begins)
    sets = sunset(place.latitude_deg, place.longitude_deg, when.begins)
    if rises is None or sets is None:
        return None
    return rises <= when.begins and when.ends <= sets - timedelta(minutes=kept_min)
