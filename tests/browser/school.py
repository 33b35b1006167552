"""The school that these tests meet: the demo's, and beside it a session of each of its people, by log-in: a
password costs a second. `python -m tests.browser.school` makes it beforehand, while other tests run."""

import json
import os
import shutil
import sqlite3
import subprocess
import sys
import time
from contextlib import closing
from datetime import UTC, datetime
from pathlib import Path

BASE = Path(__file__).resolve().parents[2]
SESSIONS = "sessions.json"
# Where it is made beforehand (by `make test`), and the day on which it was.
BEFOREHAND = BASE / ".cache" / "test-school"
DAY = "made-on"
# These tests are flown in the morning, whatever the hour: no midnight comes between the loading of the school
# and the last of them.
AHEAD_S = 9.5 * 3600 - time.time() % 86400


def morning() -> datetime:
    return datetime.fromtimestamp(time.time() + AHEAD_S, UTC)


def surroundings(data: Path) -> dict[str, str]:
    """What a process of the application runs with."""
    return {
        **os.environ,
        "KEELTURN_DATA": str(data),
        "KEELTURN_NOW": morning().isoformat(),
        # No archive is made in the middle of a test.
        "KEELTURN_BACKUP_H": "0",
        # Nothing is counted behind them, of which every test begins anew.
        "KEELTURN_AHEAD": "0",
        # A stand-in keeps letters.
        "KEELTURN_DEMO": "1",
        "DJANGO_SETTINGS_MODULE": "server.settings",
    }


def made_beforehand() -> Path | None:
    """Of today, and in this run."""
    if os.environ.get("KEELTURN_SCHOOL") != "made":
        return None
    day = BEFOREHAND / DAY
    return BEFOREHAND if day.is_file() and day.read_text() == morning().date().isoformat() else None


def make(into: Path) -> None:
    """All of it or nothing."""
    half = into.with_name(f"{into.name}-half")
    for old in (half, into):
        shutil.rmtree(old, ignore_errors=True)
    command = [sys.executable, "-m", "tests.browser.school", "--here"]
    subprocess.run(command, cwd=BASE, env=surroundings(half), check=True)
    (half / DAY).write_text(morning().date().isoformat())
    half.rename(into)


def copied(source: Path, target: Path) -> None:
    """All of one database into another, in one transaction of the other: who reads it then reads this."""
    with closing(sqlite3.connect(source)) as have, closing(sqlite3.connect(target, timeout=20)) as get:
        have.backup(get)


def load() -> None:
    """Into the data folder of KEELTURN_DATA."""
    import django

    django.setup()
    from django.conf import settings
    from django.core.management import call_command
    from django.test import Client

    from server.school.models import Person

    def session_of(person: Person) -> str:
        client = Client()
        client.force_login(person)
        return client.cookies[settings.SESSION_COOKIE_NAME].value

    call_command("migrate", verbosity=0)
    call_command("load_demo")
    sessions = {person.username: session_of(person) for person in Person.objects.all()}
    (Path(settings.DATABASES["default"]["NAME"]).parent / SESSIONS).write_text(json.dumps(sessions))


if __name__ == "__main__":
    load() if sys.argv[1:] == ["--here"] else make(BEFOREHAND)
