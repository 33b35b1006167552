"""Backups on a schedule: made, checked, the older ones let go, and a list of what became of each; one put
back in a corner, to see that it can be.

What is on the page is a file beside the archives, so that it is there without the database."""

import json
import sqlite3
import tempfile
import time
from collections.abc import Callable, Sequence
from contextlib import closing
from dataclasses import asdict, dataclass
from datetime import datetime, timedelta
from pathlib import Path

from server.backups import DATABASE, NotDone, backup, restore

LOG = "kept.json"
# Of these the latest of each: so many days, weeks (ISO 8601) and months back. Common practice, no published
# source.
DAYS, WEEKS, MONTHS = 7, 5, 12
# An archive is late when the last good one is older than so many times the hours between two.
LATE = 1.5
# Lines that are kept of what became of it.
MOST_LINES = 200
# Seconds between two looks whether one is due.
LOOK_S = 300.0


@dataclass(frozen=True)
class KeptLine:
    """What was done at a time (ISO 8601): an archive made, or one put back in a corner. good: whether it
    holds; words: what was found, or why not."""

    at: str
    what: str
    archive: str
    good: bool
    words: str


@dataclass(frozen=True)
class Safe:
    """How the school's data are kept. last: the last archive that is good and there; tried: the last one that
    was put back in a corner. warning: what to do something about; empty when there is nothing."""

    last: KeptLine | None
    tried: KeptLine | None
    warning: str
    lines: tuple[KeptLine, ...]
    every_h: float


def keep(data: Path, into: Path, now: datetime) -> KeptLine:
    """One archive made and checked, the older ones let go. What fails is written down, not raised."""
    try:
        made = backup(data, into, now)
    except (NotDone, OSError, sqlite3.Error) as error:
        return _written(into, KeptLine(now.isoformat(), "backup", "", False, str(error)))
    for old in let_go(_archives(into)):
        old.unlink()
    words = f"{made.stat().st_size / 1e6:.1f} MB, read again and as it was"
    return _written(into, KeptLine(now.isoformat(), "backup", made.name, True, words))


def try_it(into: Path, now: datetime) -> KeptLine:
    """The last archive put back in a folder of its own, opened and counted. Raises NotDone where there is
    none."""
    there = _archives(into)
    if not there:
        raise NotDone("there is no backup yet")
    archive = there[-1]
    try:
        with tempfile.TemporaryDirectory(dir=into) as corner:
            data = Path(corner) / "data"
            restore(archive, data, now)
            words = _counted(data / DATABASE)
    except (NotDone, OSError, sqlite3.Error) as error:
        return _written(into, KeptLine(now.isoformat(), "restore", archive.name, False, str(error)))
    return _written(into, KeptLine(now.isoformat(), "restore", archive.name, True, words))


def safe(into: Path, now: datetime, every_h: float) -> Safe:
    """As it is now. every_h: hours between two archives; 0 for no schedule."""
    lines = _lines(into)
    there = {path.name for path in _archives(into)}
    last = next(
        (ln for ln in reversed(lines) if ln.what == "backup" and ln.good and ln.archive in there), None
    )
    tried = next((ln for ln in reversed(lines) if ln.what == "restore"), None)
    return Safe(last, tried, _warning(lines, last, tried, now, every_h), tuple(lines[-12:][::-1]), every_h)


def _warning(
    lines: Sequence[KeptLine], last: KeptLine | None, tried: KeptLine | None, now: datetime, every_h: float
) -> str:
    if last is None:
        return "There is no good backup. Make one now, and keep it on another disk."
    newest = next(ln for ln in reversed(lines) if ln.what == "backup")
    if not newest.good:
        return f"The last backup failed: {newest.words}"
    hours = (now - datetime.fromisoformat(last.at)).total_seconds() / 3600.0
    if hours > LATE * max(every_h, 24.0):
        return f"The last good backup is {hours / 24.0:.0f} days old. Make one now."
    if tried is not None and not tried.good:
        return f"The last restore that was tried failed: {tried.words}"
    return ""


def due(into: Path, now: datetime, every_h: float) -> bool:
    """Whether the schedule asks for one: the last try, good or not, is so many hours ago."""
    tries = [ln for ln in _lines(into) if ln.what == "backup"]
    if every_h <= 0.0:
        return False
    return not tries or now - datetime.fromisoformat(tries[-1].at) >= timedelta(hours=every_h)


def keep_on(data: Path, into: Path, every_h: float, clock: Callable[[], datetime]) -> None:
    """For ever; the first look is one pause after the start, which has enough to do."""
    while True:
        time.sleep(LOOK_S)
        if due(into, clock(), every_h):
            keep(data, into, clock())


def let_go(archives: Sequence[Path]) -> list[Path]:
    """Those that are neither the latest of one of the last days, weeks or months in which there is one."""
    latest_first = sorted(archives, key=_made_at, reverse=True)
    kept: set[Path] = set()
    for most, which in ((DAYS, "%Y-%m-%d"), (WEEKS, "%G-%V"), (MONTHS, "%Y-%m")):
        of: dict[str, Path] = {}
        for archive in latest_first:
            of.setdefault(_made_at(archive).strftime(which), archive)
        kept |= set(list(of.values())[:most])
    return [archive for archive in archives if archive not in kept]


def _archives(into: Path) -> list[Path]:
    """Oldest first: only what is named as ours are."""
    found = []
    for path in into.glob("keelturn-*.tar.gz"):
        try:
            _made_at(path)
        except ValueError:
            continue
        found.append(path)
    return sorted(found, key=_made_at)


def _made_at(archive: Path) -> datetime:
    return datetime.strptime(archive.name, "keelturn-%Y%m%d-%H%M%S.tar.gz")


def _counted(database: Path) -> str:
    with closing(sqlite3.connect(database)) as opened:
        counts = [
            opened.execute(f"SELECT count(*) FROM school_{table}").fetchone()[0]
            for table in ("student", "sortie", "signature")
        ]
    students, sorties, signed = counts
    return f"{students} students, {sorties} sorties, {signed} signed records, each as it was signed"


def _lines(into: Path) -> list[KeptLine]:
    """What cannot be read is as if it were not there: the archives are."""
    try:
        return [KeptLine(**line) for line in json.loads((into / LOG).read_text())]
    except (OSError, ValueError, TypeError):
        return []


def _written(into: Path, line: KeptLine) -> KeptLine:
    into.mkdir(parents=True, exist_ok=True)
    lines = [*_lines(into), line][-MOST_LINES:]
    half = into / f"{LOG}.half"
    half.write_text(json.dumps([asdict(one) for one in lines], indent=1))
    half.replace(into / LOG)
    return line
