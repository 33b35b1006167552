"""The one clock. Whatever asks for the time asks here, so that a run can be set to any hour.

`KEELTURN_NOW` (an ISO time; UTC where it has no zone of its own) is when the process is taken to have
started; from there time runs on.
"""

from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, date, datetime, timedelta

from django.conf import settings
from django.utils import timezone


def ahead_of_the_machine(wanted: str | None, machine: datetime) -> timedelta:
    """How far the clock is set ahead of the machine's. Raises ValueError when `wanted` is not a time."""
    if not wanted:
        return timedelta()
    start = datetime.fromisoformat(wanted)
    return (start if start.tzinfo else start.replace(tzinfo=UTC)) - machine


def now() -> datetime:
    """Aware, in UTC."""
    return timezone.now() + ahead()


def ahead() -> timedelta:
    """Of the machine's clock, by which sessions end."""
    found: timedelta = settings.CLOCK_AHEAD
    return found


@contextmanager
def as_of(at: datetime) -> Iterator[None]:
    """What is done inside is done then: for a history that is told, where nobody else asks for the time."""
    before = settings.CLOCK_AHEAD
    settings.CLOCK_AHEAD = at - timezone.now()
    try:
        yield
    finally:
        settings.CLOCK_AHEAD = before


def day_of(at: datetime) -> date:
    """Which day it is then at the school."""
    return timezone.localtime(at).date()


def morning_of(at: datetime) -> datetime:
    """When that day began at the school."""
    return timezone.localtime(at).replace(hour=0, minute=0, second=0, microsecond=0)
