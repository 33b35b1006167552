"""To which flight a recording belongs: by when it began, and by what it calls its aircraft.

How far apart the two times may lie is common practice, no published source."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime, timedelta

# A recording of a flight begins so long before or after the time that was planned, at most.
BEFORE, AFTER = timedelta(hours=3), timedelta(hours=8)


@dataclass(frozen=True, slots=True)
class OfFlight:
    """A flight that was to be flown: key names it, at is its time (aware), aircraft its registration."""

    key: int
    at: datetime
    aircraft: str


def doubts(began: datetime | None, aircraft: str, flight: OfFlight) -> tuple[str, ...]:
    """Why it may not be of this flight, in sentences; none where the recording does not say. began: when its
    first row was (aware); aircraft: as the file has it, empty where it does not."""
    found = []
    if began is not None and not -BEFORE <= began - flight.at <= AFTER:
        found.append(f"It was recorded on {_said(began)}; this sortie is on {_said(flight.at)}.")
    if aircraft and _letters(aircraft) != _letters(flight.aircraft):
        found.append(f"The file calls its aircraft {aircraft}; this sortie is in {flight.aircraft}.")
    return tuple(found)


def fitting(began: datetime | None, aircraft: str, flights: Iterable[OfFlight]) -> list[OfFlight]:
    """Those that nothing speaks against, the nearest in time first; the latest where it does not say when it
    was recorded."""
    free = [flight for flight in flights if not doubts(began, aircraft, flight)]
    if began is None:
        return sorted(free, key=lambda flight: flight.at, reverse=True)
    return sorted(free, key=lambda flight: abs(began - flight.at))


def _letters(name: str) -> str:
    return "".join(letter for letter in name.upper() if letter.isalnum())


def _said(at: datetime) -> str:
    return f"{at.day} {at:%B %Y at %H:%M} UTC"
