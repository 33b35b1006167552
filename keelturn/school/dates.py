"""Dates after which somebody does not fly, or something is not flown, until it is renewed: a medical, an
instructor's certificate, an inspection, a harness. The school keeps them; no date is known here."""

from dataclasses import dataclass
from datetime import date
from typing import Literal

Of = Literal["person", "aircraft"]


@dataclass(frozen=True, slots=True)
class Dated:
    """of: whose, in words ("Tam Ferrand", "SK-AB"); until: the last day on which it is valid; warn_days: so
    many days before it is said; stops: after it nothing is flown, otherwise it is said."""

    kind: Of
    of: str
    what: str
    until: date
    warn_days: int
    stops: bool

    def days_left(self, on: date) -> int:
        """0 on the last valid day, negative after it."""
        return (self.until - on).days

    @property
    def title(self) -> str:
        return f"{self.what} of {self.of}"

    def words(self, on: date) -> str:
        left = self.days_left(on)
        if left < 0:
            return f"Ended on {self.until:%d %b %Y}, {days_in_words(-left)} before."
        return (
            f"Valid until {self.until:%d %b %Y}: {days_in_words(left)} left."
            if left
            else "Its last valid day."
        )


def days_in_words(n: int) -> str:
    return f"{n} day{'' if n == 1 else 's'}"
