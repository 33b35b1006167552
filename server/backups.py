"""Keeping the school's data: a copy while the server runs, checked after it is written; putting one back;
setting data aside instead of removing them.

Standard library only: what runs before anything is installed uses it too."""

import fcntl
import hashlib
import json
import shutil
import sqlite3
import tarfile
import tempfile
from collections.abc import Iterator
from contextlib import closing, contextmanager
from datetime import datetime
from pathlib import Path

from server.packing import unpack

DATABASE, KEY, CONTENTS, RUNNING = "keelturn.sqlite3", "secret-key", "contents.json", "running"
# What a backup holds besides the database, where it is there.
# While the demo is being loaded: how far it is.
LOADING = "demo-loading.json"
FILES = (KEY, "recordings", LOADING)
# What changes when anybody does anything in the school.
TOUCHED = (
    "SELECT count(*), total(version) FROM school_sortie",
    "SELECT count(*) FROM school_signature",
    "SELECT count(*) FROM school_correction",
    "SELECT count(*) FROM school_question",
    "SELECT count(*) FROM school_change",
    "SELECT count(*) FROM school_person",
    "SELECT count(*) FROM school_sheetread",
    "SELECT count(*) FROM school_recorded",
    "SELECT count(*) FROM school_waiting",
)


def folder_of(data: Path) -> Path:
    """Where the backups of these data go when nobody says: beside them, never in them."""
    return data.with_name("backups" if data.name == "data" else f"{data.name}-backups")


class NotDone(Exception):
    """In words; nothing was changed."""


@contextmanager
def running(data: Path) -> Iterator[None]:
    """Held by the server for as long as it serves these data. Raises NotDone when another does."""
    data.mkdir(parents=True, exist_ok=True)
    with (data / RUNNING).open("a") as held:
        try:
            fcntl.flock(held, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError as error:
            raise NotDone(f"a server is running on the data in {data}. Stop it first.") from error
        yield


def backup(data: Path, into: Path, now: datetime) -> Path:
    """A checked archive of the database (by SQLite's online backup, whatever is being written meanwhile), the
    key and the files. Raises NotDone."""
    if not (data / DATABASE).exists():
        raise NotDone(f"there is no database in {data}. Give the folder with KEELTURN_DATA.")
    into.mkdir(parents=True, exist_ok=True)
    target = into / f"keelturn-{now:%Y%m%d-%H%M%S}.tar.gz"
    if target.exists():
        raise NotDone(f"{target} is there already. Wait a second and try again.")
    with tempfile.TemporaryDirectory(dir=into) as made:
        folder = Path(made) / "data"
        folder.mkdir(mode=0o700)
        with (
            closing(sqlite3.connect(data / DATABASE)) as have,
            closing(sqlite3.connect(folder / DATABASE)) as get,
        ):
            have.backup(get)
        for name in FILES:
            if (data / name).is_dir():
                shutil.copytree(data / name, folder / name)
            elif (data / name).exists():
                shutil.copy2(data / name, folder / name)
        contents = {name: _digest(folder / name) for name in _all_in(folder)}
        (folder / CONTENTS).write_text(json.dumps(contents, indent=1))
        half = Path(made) / "half.tar.gz"
        with tarfile.open(half, "w:gz") as archive:
            archive.add(folder, "data")
        half.chmod(0o600)
        check(half)
        half.replace(target)
    return target


def check(archive: Path) -> dict[str, str]:
    """Every file of a backup read again: its digest, and the database's own. Returns the digests by name.
    Raises NotDone with what does not hold."""
    with tempfile.TemporaryDirectory() as folder:
        return _unpacked(archive, Path(folder))


def restore(archive: Path, data: Path, now: datetime) -> Path | None:
    """The data of a backup put in place, checked first; what was there is set aside and its new place
    returned. Raises NotDone."""
    data.parent.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory(dir=data.parent) as made:
        names = _unpacked(archive, Path(made))
        with running(data):
            aside = set_aside(data, now)
            for name in {Path(name).parts[0] for name in names}:
                shutil.move(Path(made) / "data" / name, data / name)
    return aside


def set_aside(data: Path, now: datetime) -> Path | None:
    """The database, the key and the files moved into a folder of their own beside the new ones; None where
    there are none."""
    there = [*data.glob(f"{DATABASE}*")] + [data / name for name in FILES]
    there = [path for path in there if path.exists()]
    if not there:
        return None
    aside = data / f"aside-{now:%Y%m%d-%H%M%S-%f}"
    aside.mkdir(mode=0o700)
    for path in there:
        path.rename(aside / path.name)
    return aside


def as_the_demo_left_it(data: Path) -> bool:
    """Whether nothing was done in this school since the demo was loaded, or there is none."""
    if not (data / DATABASE).exists():
        return True
    marked = data / "demo-as-loaded"
    return marked.exists() and marked.read_text() == _touched(data)


def mark_the_demo(data: Path) -> None:
    (data / "demo-as-loaded").write_text(_touched(data))


def _touched(data: Path) -> str:
    try:
        with closing(sqlite3.connect(data / DATABASE)) as database:
            tables = {name for (name,) in database.execute("SELECT name FROM sqlite_master")}
            # Of an older program, which has not all of them.
            there = [query for query in TOUCHED if query.split()[-1] in tables]
            return json.dumps([database.execute(query).fetchone() for query in there])
    except sqlite3.DatabaseError as error:
        return f"not to be read: {error}"


def _unpacked(archive: Path, folder: Path) -> dict[str, str]:
    try:
        with tarfile.open(archive) as packed:
            packed.extractall(folder, filter="data")
        contents: dict[str, str] = json.loads((folder / "data" / CONTENTS).read_text())
    except (OSError, tarfile.TarError, ValueError, EOFError) as error:
        raise NotDone(f"{archive} is not a whole backup ({error}).") from error
    for name, digest in contents.items():
        path = folder / "data" / name
        if not path.exists() or _digest(path) != digest:
            raise NotDone(f"{archive}: {name} is not as it was packed.")
    if DATABASE not in contents:
        raise NotDone(f"{archive} has no database in it.")
    with closing(sqlite3.connect(folder / "data" / DATABASE)) as database:
        found = [words for (words,) in database.execute("PRAGMA integrity_check")]
        if found != ["ok"] or database.execute("PRAGMA foreign_key_check").fetchall():
            raise NotDone(f"{archive}: the database in it is damaged ({found[0]}).")
        for document, digest in database.execute("SELECT document, digest FROM school_signature"):
            if hashlib.sha256(unpack(document).encode()).hexdigest() != digest:
                raise NotDone(f"{archive}: a signed record in it is not as it was signed.")
    return contents


def _all_in(folder: Path) -> list[str]:
    return sorted(str(path.relative_to(folder)) for path in folder.rglob("*") if path.is_file())


def _digest(path: Path) -> str:
    return hashlib.sha256(path.read_bytes()).hexdigest()
