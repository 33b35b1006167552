"""Deliberate faults, one at a time, in a copy of the program: the tests of that part find each. `make mutate`
tries thousands, of which this is a sample that takes a minute or two."""

import os
import shutil
import subprocess
import sys
from pathlib import Path
from typing import NamedTuple

import pytest

BASE = Path(__file__).resolve().parents[2]
pytestmark = pytest.mark.long


class Fault(NamedTuple):
    """What of a file is put otherwise, and the tests that must say so."""

    path: str
    sound: str
    wrong: str
    tests: str


FAULTS = {
    "the mildest floor applies": Fault(
        "keelturn/margins/floors.py",
        "return max(floors(conditions)",
        "return min(floors(conditions)",
        "tests/core/test_floors_and_checks.py",
    ),
    "the lowest start forgets the likely loss": Fault(
        "keelturn/margins/floors.py",
        "floor.value + max(worst.value, recovery.value) + allowance.value",
        "floor.value + min(worst.value, recovery.value) + allowance.value",
        "tests/core/test_floors_and_checks.py",
    ),
    "any instructor changes a colleague's sortie": Fault(
        "server/school/permissions.py",
        "mine = person.teaches and sortie.instructor_id == person.pk",
        "mine = person.teaches",
        "tests/server/test_doors.py",
    ),
    "a bounce is a second tap": Fault(
        "web/src/sortie/fly/HeightKey.tsx", "const BOUNCE_MS = 300", "const BOUNCE_MS = 0", "src/sortie/fly"
    ),
    "a late reading moves the screen on": Fault(
        "web/src/sortie/fly/FlyStage.tsx",
        "const stay = () => setHere(figure.planned.id);",
        "const stay = () => undefined;",
        "src/sortie/fly",
    ),
}


@pytest.fixture(scope="module")
def copy(tmp_path_factory):
    """Of what git knows, with the packages of this one."""
    root = tmp_path_factory.mktemp("copy")
    names = subprocess.run(
        ["git", "ls-files", "-z"], cwd=BASE, capture_output=True, text=True, check=True
    ).stdout.split("\0")
    for name in filter(None, names):
        if (BASE / name).is_file():
            (root / name).parent.mkdir(parents=True, exist_ok=True)
            shutil.copy(BASE / name, root / name)
    (root / "web" / "node_modules").symlink_to(BASE / "web" / "node_modules")
    return root


def run_in(copy: Path, tests: str) -> subprocess.CompletedProcess[str]:
    if tests.startswith("src/"):
        command, where = ["npx", "--no-install", "vitest", "run", tests], copy / "web"
    else:
        command, where = [sys.executable, "-m", "pytest", "-x", "-q", "-m", "not long", tests], copy
    env = {k: v for k, v in os.environ.items() if not k.startswith(("PYTEST_", "KEELTURN_FAILURES"))}
    env |= {"PYTHONPATH": str(copy), "NUMBA_CACHE_DIR": str(copy / ".cache" / "numba")}
    return subprocess.run(command, cwd=where, env=env, capture_output=True, text=True)


@pytest.mark.parametrize("name", FAULTS)
def test_a_deliberate_fault_is_found(copy, name):
    fault = FAULTS[name]
    path = copy / fault.path
    sound = path.read_text()
    assert sound.count(fault.sound) == 1, f"{fault.path} has changed: write this fault anew"
    path.write_text(sound.replace(fault.sound, fault.wrong))
    try:
        done = run_in(copy, fault.tests)
    finally:
        path.write_text(sound)
    said = done.stdout + done.stderr
    assert done.returncode == 1, said[-3000:]
    assert "failed" in said, said[-3000:]
