"""The demo school loaded behind its first pages: Today can be opened at once, the other lessons come one by
one, and how far that is, is said. It goes on where it was when the server is begun again."""

import json
from collections.abc import Callable
from datetime import UTC, date, datetime, time
from pathlib import Path
from time import sleep
from typing import NamedTuple

from django.db import transaction

from server.backups import LOADING, as_the_demo_left_it, mark_the_demo
from server.school.demo.loading import Looks, load_first, the_rest
from server.school.models import Person

HOUR = time(8, tzinfo=UTC)
PAUSE_S = 0.25


class Progress(NamedTuple):
    """on: the day that the school is counted from. So many of its parts are there."""

    on: date
    done: int
    of: int


def progress(data: Path) -> Progress | None:
    """None where nothing is being loaded."""
    try:
        found = json.loads((data / LOADING).read_text())
    except FileNotFoundError:
        # Also where the last part has come just now.
        return None
    return Progress(date.fromisoformat(found["on"]), found["done"], found["of"])


def _note(data: Path, now: Progress) -> None:
    half = data / f"{LOADING}-half"
    half.write_text(json.dumps({"on": now.on.isoformat(), "done": now.done, "of": now.of}))
    half.replace(data / LOADING)


def begin(data: Path, on: date, say: Callable[[str], None]) -> None:
    """What the first pages need; the rest is noted as still to come."""
    at = datetime.combine(on, HOUR)
    with transaction.atomic():
        load_first(at, say)
        parts = the_rest(at, lambda sortie, record: {})
        _note(data, Progress(on, 0, len(parts)))
    mark_the_demo(data)


def go_on(data: Path, looks: Looks) -> None:
    """Whatever is still to come. Nothing where nothing is."""
    found = progress(data)
    if found is None or not Person.objects.exists():
        return
    for done, part in enumerate(the_rest(datetime.combine(found.on, HOUR), looks), start=1):
        # The demo as it was loaded stays that, unless somebody has worked meanwhile.
        untouched = as_the_demo_left_it(data)
        part.do()
        if untouched:
            mark_the_demo(data)
        # Begun again, it goes through those that are there, and does not say less meanwhile.
        _note(data, found._replace(done=max(found.done, done)))
        # Who waits to store something comes first; what they store is not the demo's.
        sleep(PAUSE_S)
    (data / LOADING).unlink()
