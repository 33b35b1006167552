"""Backups on a schedule: which are let go, when one is due, what is warned of, one put back in a corner."""

import json
import os
import shutil
import subprocess
import sys
from dataclasses import asdict
from datetime import UTC, datetime, timedelta

import pytest

from server import safe_keeping
from server.backups import DATABASE, NotDone, restore
from server.safe_keeping import LOG, due, keep, keep_on, let_go, safe, try_it
from tests.server.conftest import post
from tests.server.test_backups import AT, data, renamed
from tests.server.test_database import BASE

__all__ = ["data"]


@pytest.fixture
def into(tmp_path):
    return tmp_path / "backups" / "scheduled"


def archives(into):
    return sorted(path.name for path in into.glob("*.tar.gz"))


def test_one_that_is_made_is_read_again_and_written_down(data, into):
    line = keep(data, into, AT)
    assert (line.good, line.what) == (True, "backup")
    assert archives(into) == [line.archive] == ["keelturn-20261126-130000.tar.gz"]
    assert line.words.endswith("MB, read again and as it was")
    found = safe(into, AT, 24.0)
    assert (found.last, found.warning, found.tried) == (line, "", None)
    assert found.lines == (line,)


def test_one_that_fails_is_written_down_and_warned_of(data, into):
    keep(data, into, AT)
    (data / DATABASE).unlink()
    line = keep(data, into, AT + timedelta(hours=24))
    assert not line.good and "there is no database" in line.words
    found = safe(into, AT + timedelta(hours=24), 24.0)
    assert found.warning == f"The last backup failed: {line.words}"
    # Trying the one before it does not make it good.
    assert try_it(into, AT + timedelta(hours=25)).good
    assert safe(into, AT + timedelta(hours=25), 24.0).warning == found.warning
    # The good one before it is still there, and named.
    assert found.last.archive == archives(into)[0]


def test_of_none_it_is_said_what_to_do(into):
    assert safe(into, AT, 24.0).warning.startswith("There is no good backup. Make one now")


def test_one_whose_archive_is_gone_is_no_good_one(data, into):
    (into / keep(data, into, AT).archive).unlink()
    assert safe(into, AT, 24.0).last is None


@pytest.mark.parametrize(("hours", "warned"), [(35.9, False), (36.1, True)])
def test_it_is_late_after_half_as_long_again(data, into, hours, warned):
    keep(data, into, AT)
    assert bool(safe(into, AT + timedelta(hours=hours), 24.0).warning) == warned


@pytest.mark.parametrize(
    ("hours", "every", "asked"), [(23.9, 24, False), (24, 24, True), (5, 4, True), (99, 0, False)]
)
def test_one_is_due_so_many_hours_after_the_last_try(data, into, hours, every, asked):
    keep(data, into, AT)
    assert due(into, AT + timedelta(hours=hours), every) == asked


def test_the_first_is_due_at_once_and_one_that_failed_waits_its_time(data, into):
    assert due(into, AT, 24)
    keep(data / "nowhere", into, AT)
    assert not due(into, AT + timedelta(hours=1), 24)


def test_the_schedule_makes_one_when_it_is_due(data, into, monkeypatch):
    """Four looks, eight hours apart."""
    now = [AT]

    def pause(seconds):
        assert seconds == safe_keeping.LOOK_S
        now[0] += timedelta(hours=8)
        if len(looks) == 4:
            raise KeyboardInterrupt
        looks.append(now[0])

    looks = []
    monkeypatch.setattr(safe_keeping.time, "sleep", pause)
    with pytest.raises(KeyboardInterrupt):
        keep_on(data, into, 24.0, lambda: now[0])
    assert archives(into) == ["keelturn-20261126-210000.tar.gz", "keelturn-20261127-210000.tar.gz"]


# --- which are let go


def made(into, *days_ago, hour=3):
    into.mkdir(parents=True, exist_ok=True)
    found = []
    for ago in days_ago:
        at = datetime(2026, 11, 26, hour, tzinfo=UTC) - timedelta(days=ago)
        path = into / f"keelturn-{at:%Y%m%d-%H%M%S}.tar.gz"
        path.touch()
        found.append(path)
    return found


def kept(paths):
    gone = set(let_go(paths))
    return [path for path in paths if path not in gone]


def test_the_last_seven_days_are_kept(into):
    """The 26th is a Thursday: of the week before, the Sunday and what is in the seven days."""
    days = made(into, *range(14))
    assert kept(days) == [days[n] for n in (0, 1, 2, 3, 4, 5, 6, 11)]


def test_of_a_day_its_latest(into):
    early, late = made(into, 0, hour=3) + made(into, 0, hour=15)
    assert kept([early, late]) == [late]


def test_five_weeks_and_twelve_months_back_one_of_each(into):
    days = made(into, *range(500))
    left = kept(days)
    ages = [days.index(path) for path in left]
    assert ages[:7] == list(range(7))
    # Sundays of the four weeks before this one, and the last day of eleven months before this one.
    assert [age for age in ages if age in (4, 11, 18, 25, 32)] == [4, 11, 18, 25]
    assert len([age for age in ages if age >= 26]) == 11
    assert len(left) == 7 + 3 + 11


def test_what_is_not_named_as_ours_is_left_alone(data, into):
    into.mkdir(parents=True)
    foreign = [into / name for name in ("keelturn-by-hand.tar.gz", "notes.txt")]
    for path in foreign:
        path.touch()
    made(into, 400, 401)
    keep(data, into, AT)
    assert all(path.exists() for path in foreign)
    assert "keelturn-by-hand.tar.gz" not in [line.archive for line in safe(into, AT, 24).lines]


# --- put back in a corner


def test_the_last_one_is_put_back_in_a_corner_and_counted(data, into):
    keep(data, into, AT)
    renamed(data, "Since Then")
    line = try_it(into, AT + timedelta(hours=1))
    assert line.good and line.what == "restore"
    assert line.words == "5 students, 4 sorties, 2 signed records, each as it was signed"
    # Nothing of it stays, and what is in use is as it was.
    assert archives(into) == [line.archive]
    assert sorted(path.name for path in into.iterdir()) == sorted([LOG, line.archive])
    assert safe(into, AT + timedelta(hours=1), 24.0).tried == line


def test_a_damaged_one_is_found_and_warned_of(data, into):
    archive = into / keep(data, into, AT).archive
    archive.write_bytes(archive.read_bytes()[:-2000])
    line = try_it(into, AT)
    assert not line.good and archive.name in line.words
    assert safe(into, AT, 24.0).warning == f"The last restore that was tried failed: {line.words}"


def test_without_one_there_is_nothing_to_try(into):
    with pytest.raises(NotDone, match="there is no backup yet"):
        try_it(into, AT)


def test_a_list_that_cannot_be_read_takes_nothing_with_it(data, into):
    line = keep(data, into, AT)
    (into / LOG).write_text("{")
    assert safe(into, AT, 24.0).last is None
    again = keep(data, into, AT + timedelta(seconds=1))
    assert json.loads((into / LOG).read_text()) == [asdict(again)]
    assert line.archive not in archives(into)


VERIFIED = """
import django; django.setup()
from django.core.management import call_command
call_command("migrate", verbosity=0)
call_command("verify")
"""


@pytest.mark.long
def test_kept_destroyed_restored_and_verified(data, into):
    archive = into / keep(data, into, AT).archive
    shutil.rmtree(data)
    assert restore(archive, data, AT + timedelta(hours=2)) is None
    assert (data / "recordings" / "flight.csv").read_text() == "1,2,3\n"
    env = {**os.environ, "KEELTURN_DATA": str(data), "DJANGO_SETTINGS_MODULE": "server.settings"}
    done = subprocess.run(
        [sys.executable, "-c", VERIFIED], cwd=BASE, env=env, capture_output=True, text=True, timeout=120
    )
    assert "2 signed records: each is as it was signed." in done.stdout, done.stderr[-2000:]


# --- the chief's page


@pytest.fixture
def served(settings, data, into):
    settings.DATA, settings.SCHEDULED, settings.BACKUP_EVERY_H = data, into, 24.0


def test_the_chief_makes_one_and_tries_it(school, as_, served):
    chief = as_("chief")
    assert chief.get("/api/safe-keeping").json()["warning"].startswith("There is no good backup")
    nothing = post(chief, "/api/safe-keeping/trial", {})
    assert (nothing.status_code, nothing.json()["problems"][0]["do"]) == (422, "Make one first.")
    made = post(chief, "/api/safe-keeping/backup", {}).json()
    assert made["last"]["good"] and made["warning"] == "" and made["every_h"] == 24.0
    tried = post(chief, "/api/safe-keeping/trial", {}).json()["tried"]
    assert tried["good"] and "2 signed records" in tried["words"]


@pytest.mark.parametrize("who", ["bo", "ana"])
def test_nobody_else_does(school, as_, served, who):
    answers = [post(as_(who), f"/api/safe-keeping/{what}", {}) for what in ("backup", "trial")]
    assert [answer.status_code for answer in answers] == [403, 403]
