"""Which students are due to fly, and why (common practice, no published source)."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from keelturn.noting.attempt import Attempt
from keelturn.school.dates import days_in_words

# After so many days without a flight what was learnt upside down begins to go.
LONG_DAYS = 14


@dataclass(frozen=True, slots=True)
class Due:
    """is_due: somebody should book this student."""

    is_due: bool
    why: str


def due(today: date, joined: date, last_flew: date | None, booked: date | None) -> Due:
    """joined: from then on the days of who has not flown yet are counted. last_flew: None for those; booked:
    the next sortie, today or later, None for none."""
    if last_flew is None:
        days = (today - joined).days
        since = (
            "Joined today, not flown yet"
            if days <= 0
            else f"Not flown in the {days_in_words(days)} since joining"
        )
        long = days > LONG_DAYS
    else:
        days = (today - last_flew).days
        since = {0: "Flew today", 1: "Flew yesterday"}.get(days, f"{days} days without a flight")
        long = days > LONG_DAYS
    if booked is None:
        return Due(long, f"{since}, nothing booked")
    return Due(False, since)


def last_feel(lessons: Sequence[Sequence[Attempt]]) -> int | None:
    """The number that the student gave last, 0 to 10, in the last lesson in which one was given."""
    return next(
        (a.feel for lesson in reversed(lessons) for a in reversed(lesson) if a.feel is not None), None
    )
