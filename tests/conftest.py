"""One migrated database for a run, copied for each of its processes; and which files are begun first."""

import fcntl
import os
import shutil
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pytest

if os.environ.get("KEELTURN_WARM") == "1":
    # Of the process from which those are forked that try one deliberate fault each (make mutate).
    from keelturn.spinning.warm import warm

    warm()

# Files that take longest, the longest first: none of them is begun when all else is done. Browsers wait much
# of the time, and leave the processor to the others.
LONGEST = (
    "test_sweep.py",
    "test_planning.py",
    "test_score.py",
    "test_old_states.py",
    "test_attack.py",
    "test_fit.py",
    "test_database.py",
    "test_demo.py",
)


def pytest_ignore_collect(collection_path: Path, config: pytest.Config) -> bool | None:
    """A file of long tests alone is not even read where none is asked for: some work for seconds to know
    their cases."""
    if config.option.markexpr != "not long" or collection_path.suffix != ".py":
        return None
    return "\npytestmark = pytest.mark.long\n" in collection_path.read_text() or None


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    place = {name: at for at, name in enumerate(LONGEST)}
    items.sort(key=lambda item: ("browser" not in item.path.parts, place.get(item.path.name, len(LONGEST))))


@pytest.fixture(scope="session")
def of_the_run(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A folder that all processes of this run share."""
    mine = tmp_path_factory.getbasetemp()
    return mine.parent if "PYTEST_XDIST_WORKER" in os.environ else mine


def made_once(path: Path, make: Callable[[Path], Any]) -> Path:
    """What is at this path, made by the first process of the run that needs it; the others wait."""
    with path.with_name(f"{path.name}.lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        if not path.exists():
            half = path.with_name(f"{path.name}-half")
            make(half)
            half.rename(path)
    return path


@pytest.fixture(scope="session")
def migrated(of_the_run: Path, django_test_environment: None, django_db_blocker: Any) -> Path:
    """An empty database, brought up to date once in this run."""
    from django.core.management import call_command
    from django.db import connection

    def make(into: Path) -> None:
        with django_db_blocker.unblock():
            connection.settings_dict["NAME"] = str(into)
            call_command("migrate", verbosity=0)
            # All of it in the one file.
            with connection.cursor() as cursor:
                cursor.execute("PRAGMA wal_checkpoint(TRUNCATE)")
            connection.close()

    return made_once(of_the_run / "migrated.sqlite3", make)


@pytest.fixture(scope="session")
def django_db_setup(migrated: Path, tmp_path_factory: pytest.TempPathFactory) -> Iterator[None]:
    """The tests' database of this process: pytest-django would migrate one for each."""
    from django.db import connection

    connection.close()
    connection.settings_dict["NAME"] = shutil.copy(migrated, tmp_path_factory.getbasetemp() / "test.sqlite3")
    yield
    connection.close()
