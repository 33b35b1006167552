"""Passwords, asked for so that guessing is slow, locks nobody else out and starves nobody."""

import fcntl
import time
from collections.abc import Iterator
from contextlib import contextmanager
from threading import BoundedSemaphore
from typing import IO

from axes.handlers.proxy import AxesProxyHandler
from django.conf import settings
from django.contrib.auth import authenticate
from django.http import HttpRequest

from server.school.models import Person
from server.workers import Crowded

# Seconds for the turn to come, and between two looks whether it has; so many wait in each process.
PATIENCE_S, LOOK_S, MOST_WAIT = 20.0, 0.02, 8
_WAITING = BoundedSemaphore(MOST_WAIT)


@contextmanager
def in_turn() -> Iterator[None]:
    """A password is made slow to check on purpose: one at a time on this machine, so that the rest of it is
    everybody's. A process that dies gives its turn up. Raises Crowded when the turn does not come."""
    if not _WAITING.acquire(blocking=False):
        raise Crowded(MANY, 10)
    try:
        with (settings.DATA / "password-turn").open("w") as turn:
            _wait_for(turn, time.monotonic() + PATIENCE_S)
            yield
    finally:
        _WAITING.release()


MANY = "many passwords are being checked just now"


def _wait_for(turn: IO[str], end: float) -> None:
    while True:
        try:
            return fcntl.flock(turn, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError as error:
            if time.monotonic() > end:
                raise Crowded(MANY, 10) from error
            time.sleep(LOOK_S)


def authenticated(request: HttpRequest, username: str, password: str) -> Person | None:
    """Who it is; None for a wrong name or password. Raises Crowded after too many wrong ones for this account
    from this address: the same account from elsewhere, and others from here, are not touched."""
    given = {"username": username}
    if not AxesProxyHandler.is_allowed(request, given):
        raise _locked()
    with in_turn():
        found = authenticate(request, username=username, password=password)
    if found is None and not AxesProxyHandler.is_allowed(request, given):
        raise _locked()
    return found if isinstance(found, Person) else None


def _locked() -> Crowded:
    minutes = settings.AXES_COOLOFF_TIME.total_seconds() / 60.0
    what = f"too many wrong passwords for this account from here; it opens again in {minutes:.0f} minutes"
    return Crowded(what, int(60 * minutes))


def is_password_of(person: Person, password: str) -> bool:
    """Raises Crowded."""
    with in_turn():
        return person.check_password(password)
