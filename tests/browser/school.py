"""The school that these tests meet: the demo's, and beside it a session of each of its people, by log-in: a
password costs a second. `python -m tests.browser.school` makes it beforehand, for all who run tests."""

import json
import os
import shutil
import sqlite3
import subprocess
import sys
from contextlib import closing
from datetime import UTC, datetime
from pathlib import Path

from tests.servers import PATIENCE_S
from tools.steps import is_done

BASE = Path(__file__).resolve().parents[2]
SESSIONS = "sessions.json"
# Where `make test` and `make test-long` make it beforehand, for all that run at the same time.
BEFOREHAND = BASE / ".cache" / "test-school"
# Always this morning: no midnight comes between the loading of the school and the last of the tests, and a
# school that was made for an earlier run is the same.
MORNING = datetime(2026, 5, 14, 9, 30, tzinfo=UTC)
FOR_EVER = datetime(2100, 1, 1, tzinfo=UTC)


def sources() -> list[Path]:
    """What the school follows from."""
    return [Path(__file__), *(BASE / "keelturn").rglob("*.py"), *(BASE / "server").rglob("*.py")]


def is_made() -> bool:
    return is_done("school", sources(), BEFOREHAND / SESSIONS)


def surroundings(data: Path) -> dict[str, str]:
    """What a process of the application runs with."""
    return {
        **os.environ,
        "KEELTURN_DATA": str(data),
        "KEELTURN_NOW": MORNING.isoformat(),
        # No archive is made in the middle of a test.
        "KEELTURN_BACKUP_H": "0",
        # Nothing is counted behind them, of which every test begins anew.
        "KEELTURN_AHEAD": "0",
        # A stand-in keeps letters.
        "KEELTURN_DEMO": "1",
        "DJANGO_SETTINGS_MODULE": "server.settings",
    }


def make(into: Path) -> None:
    """All of it or nothing."""
    half = into.with_name(f"{into.name}-half")
    for old in (half, into):
        shutil.rmtree(old, ignore_errors=True)
    command = [sys.executable, "-m", "tests.browser.school", "--here"]
    subprocess.run(command, cwd=BASE, env=surroundings(half), check=True)
    half.rename(into)


def copied(source: Path, target: Path) -> None:
    """All of one database into another, in one transaction of the other: who reads it then reads this."""
    with (
        closing(sqlite3.connect(source)) as have,
        closing(sqlite3.connect(target, timeout=PATIENCE_S)) as get,
    ):
        have.backup(get)


def load() -> None:
    """Into the data folder of KEELTURN_DATA."""
    import django

    django.setup()
    from django.conf import settings
    from django.core.management import call_command
    from django.test import Client

    from server.backups import mark_the_demo
    from server.school.demo.loading import load_first, the_rest
    from server.school.models import OpenSession, Person

    def session_of(person: Person) -> str:
        client = Client()
        client.force_login(person)
        return client.cookies[settings.SESSION_COOKIE_NAME].value

    call_command("migrate", verbosity=0)
    # Today's part, with the lessons of four students, and the week; the lessons of the others are in
    # test_demo.py. Without the second look at what was recorded: it is counted when somebody opens it.
    load_first(MORNING, lambda words: None)
    *_, week = the_rest(MORNING, lambda sortie, record: {})
    week.do()
    mark_the_demo(settings.DATA)
    sessions = {person.username: session_of(person) for person in Person.objects.all()}
    OpenSession.objects.update(expire_date=FOR_EVER)
    (settings.DATA / SESSIONS).write_text(json.dumps(sessions))


if __name__ == "__main__":
    load() if sys.argv[1:] == ["--here"] else make(BEFOREHAND)
