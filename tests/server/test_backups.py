"""Nothing is lost: copies while the school works, checked; put back; the demo begun afresh without removing
anything."""

import gzip
import io
import os
import shutil
import socket
import sqlite3
import subprocess
import sys
import tarfile
from contextlib import closing
from datetime import UTC, datetime

import pytest

from server import backups
from server.backups import DATABASE, KEY, NotDone
from tests.core.test_signed_records import STATES
from tests.server.test_database import BASE

AT = datetime(2026, 11, 26, 13, 0, tzinfo=UTC)


@pytest.fixture
def data(tmp_path):
    """A school with two signed sorties, its key and a recording."""
    folder = tmp_path / "data"
    (folder / "recordings").mkdir(parents=True)
    (folder / "recordings" / "flight.csv").write_text("1,2,3\n")
    (folder / KEY).write_text("a key")
    with closing(sqlite3.connect(folder / DATABASE)) as database:
        database.executescript(gzip.decompress(STATES[-1].read_bytes()).decode())
        database.execute("PRAGMA journal_mode=WAL")
    return folder


def names(folder):
    with closing(sqlite3.connect(folder / DATABASE)) as database:
        return [name for (name,) in database.execute("SELECT name FROM school_person ORDER BY id")]


def renamed(folder, name="Somebody Else"):
    with closing(sqlite3.connect(folder / DATABASE)) as database:
        database.execute("UPDATE school_person SET name = ? WHERE id = 1", [name])
        database.commit()


def test_a_backup_holds_what_was_committed_while_others_write(data, tmp_path):
    """Everything of it lies in the write-ahead log, and somebody is in the middle of a change."""
    with closing(sqlite3.connect(data / DATABASE)) as writer:
        writer.execute("PRAGMA wal_autocheckpoint=0")
        writer.execute("UPDATE school_person SET name = 'Committed' WHERE id = 1")
        writer.commit()
        writer.execute("UPDATE school_person SET name = 'Half done' WHERE id = 1")
        assert b"Committed" not in (data / DATABASE).read_bytes()
        archive = backups.backup(data, tmp_path / "kept", AT)
        writer.rollback()
    assert archive.name == "keelturn-20261126-130000.tar.gz"
    assert archive.stat().st_mode & 0o777 == 0o600
    assert set(backups.check(archive)) == {DATABASE, KEY, "recordings/flight.csv"}
    elsewhere = tmp_path / "elsewhere"
    assert backups.restore(archive, elsewhere, AT) is None
    assert names(elsewhere)[0] == "Committed"
    assert (elsewhere / KEY).read_text() == "a key"
    assert (elsewhere / "recordings" / "flight.csv").read_text() == "1,2,3\n"
    assert [path.name for path in (tmp_path / "kept").iterdir()] == [archive.name]


def test_restoring_sets_aside_what_was_there(data, tmp_path):
    archive, first = backups.backup(data, tmp_path / "kept", AT), names(data)
    renamed(data)
    aside = backups.restore(archive, data, AT)
    assert names(data) == first
    assert names(aside)[0] == "Somebody Else"
    assert (aside / KEY).exists()
    assert aside.parent == data


def test_nothing_is_restored_under_a_running_server(data, tmp_path):
    archive = backups.backup(data, tmp_path / "kept", AT)
    renamed(data)
    with backups.running(data), pytest.raises(NotDone, match="a server is running"):
        backups.restore(archive, data, AT)
    assert names(data)[0] == "Somebody Else"
    assert not list(data.glob("aside*"))


def altered(archive, name, change):
    """The archive with one of its files otherwise."""
    out = archive.with_name("altered.tar.gz")
    with tarfile.open(archive) as have, tarfile.open(out, "w:gz") as get:
        for member in have:
            content = have.extractfile(member).read() if member.isfile() else None
            if member.name == f"data/{name}":
                content = change(content)
            if content is not None:
                member.size = len(content)
            get.addfile(member, None if content is None else io.BytesIO(content))
    return out


@pytest.mark.parametrize(
    ("name", "change", "said"),
    [
        (DATABASE, lambda b: b[:-4096] + b"x" * 4096, f"{DATABASE} is not as it was packed"),
        (KEY, lambda b: b"another", "secret-key is not as it was packed"),
        ("contents.json", lambda b: b"{}", "has no database in it"),
        ("contents.json", lambda b: b"{", "is not a whole backup"),
    ],
)
def test_a_backup_that_is_not_as_it_was_packed_is_refused(data, tmp_path, name, change, said):
    archive = altered(backups.backup(data, tmp_path / "kept", AT), name, change)
    with pytest.raises(NotDone, match=said):
        backups.restore(archive, data, AT)
    assert not list(data.glob("aside*"))


def test_half_a_backup_is_refused(data, tmp_path):
    archive = backups.backup(data, tmp_path / "kept", AT)
    archive.write_bytes(archive.read_bytes()[:-500])
    with pytest.raises(NotDone, match="is not a whole backup"):
        backups.check(archive)


def test_a_database_whose_signed_records_do_not_hold_is_not_called_a_backup(data, tmp_path):
    with closing(sqlite3.connect(data / DATABASE)) as database:
        database.execute("DROP TRIGGER signature_update")
        database.execute("UPDATE school_signature SET document = substr(document, 1, 60) || x'00'")
        database.commit()
    with pytest.raises(NotDone, match="not as it was signed"):
        backups.backup(data, tmp_path / "kept", AT)
    assert list((tmp_path / "kept").iterdir()) == []


def test_no_database_no_backup(tmp_path):
    with pytest.raises(NotDone, match="there is no database"):
        backups.backup(tmp_path / "nowhere", tmp_path / "kept", AT)


# The demo afresh


@pytest.mark.parametrize(
    "statement",
    [
        "UPDATE school_sortie SET version = version + 1 WHERE stage = 'briefed'",
        "INSERT INTO school_correction (at, reason, text, by_id, sortie_id) VALUES ('2026', 'r', '', 1, 1)",
        "UPDATE school_person SET id = 99 WHERE id = 98",
    ],
)
def test_work_in_the_demo_is_noticed(data, statement):
    backups.mark_the_demo(data)
    assert backups.as_the_demo_left_it(data)
    with closing(sqlite3.connect(data / DATABASE)) as database:
        database.execute(statement)
        database.commit()
    assert backups.as_the_demo_left_it(data) == ("= 98" in statement)


def test_a_school_that_is_not_the_demo_is_noticed(data, tmp_path):
    assert not backups.as_the_demo_left_it(data)
    assert backups.as_the_demo_left_it(tmp_path / "nothing there")


def make(what, data, answer="", **more):
    env = {**os.environ, "KEELTURN_DATA": str(data), **more}
    command = [sys.executable, "tools/run.py", what]
    return subprocess.run(
        command, cwd=BASE, env=env, input=answer, capture_output=True, text=True, timeout=60
    )


def test_demo_fresh_tests_the_port_before_it_touches_anything(data):
    with socket.socket() as busy:
        busy.bind(("127.0.0.1", 0))
        busy.listen()
        done = make("demo-fresh", data, "y\n", PORT=str(busy.getsockname()[1]))
    assert done.returncode == 1
    assert "is in use" in done.stderr
    assert names(data)
    assert not list(data.glob("aside*"))


@pytest.mark.parametrize("answer", ["", "n\n", "\n"])
def test_demo_fresh_asks_when_somebody_has_worked_there(data, answer):
    done = make("demo-fresh", data, answer, PORT="18437")
    assert done.returncode == 1
    assert "somebody has worked" in done.stdout
    assert "Nothing was changed" in done.stderr
    assert names(data)
    assert not list(data.glob("aside*"))


def test_demo_fresh_does_not_touch_a_running_school(data):
    with backups.running(data):
        done = make("demo-fresh", data, "y\n", PORT="18437")
    assert done.returncode == 1
    assert "a server is running" in done.stderr
    assert names(data)


def test_what_is_set_aside_is_all_there(data):
    before = names(data)
    aside = backups.set_aside(data, AT)
    assert not (data / DATABASE).exists()
    assert names(aside) == before
    assert {path.name for path in aside.iterdir()} >= {DATABASE, KEY, "recordings"}
    assert backups.set_aside(data, AT) is None


def test_backup_and_restore_by_make(data, tmp_path):
    first = names(data)
    made = make("backup", data, BACKUPS=str(tmp_path / "kept"))
    assert made.returncode == 0, made.stderr
    assert "each read again" in made.stdout
    shutil.rmtree(data)
    (archive,) = (tmp_path / "kept").iterdir()
    assert "Say which" in make("restore", data).stderr
    done = make("restore", data, FILE=str(archive))
    assert done.returncode == 0, done.stderr
    assert names(data) == first
