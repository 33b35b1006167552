"""What `make load` measures is what it says: its people go on to the end, and what they look at answers. How
long that takes is said by `make load` alone."""

import json
import re
import subprocess
import sys

import pytest

from tests.browser.conftest import Served
from tests.browser.school import BASE, copied, surroundings
from tests.servers import PATIENCE_S
from tools import load, load_large

pytestmark = pytest.mark.long

FEW = 2


@pytest.fixture
def school(served: Served) -> Served:
    copied(served.fresh, served.database)
    return served


def prepared(school: Served, *script: str) -> None:
    command = [sys.executable, "-c", *script]
    subprocess.run(command, cwd=BASE, env=surroundings(school.data), check=True)


def answered(said: str, what: str) -> int:
    return int(re.search(rf"{what} +(\d+) answers", said)[1])


@pytest.fixture
def few(monkeypatch: pytest.MonkeyPatch) -> None:
    for name in ("PEOPLE", "FITTERS", "GUESSERS", "IDLE"):
        monkeypatch.setattr(load, name, FEW)
    monkeypatch.setattr(load, "FIT_FIGURES", FEW)
    monkeypatch.setattr(load, "PAUSE_S", 0.05)


def test_on_a_busy_morning_everybody_goes_on_looking_and_storing(school, few, capsys):
    prepared(school, load.MORE_TEACHERS % FEW)
    load.a_busy_morning(school.port.number, lambda rounds, _: rounds < 3)
    said = capsys.readouterr().out
    assert [answered(said, what) for what in ("today", "preview", "save")] == [3 * FEW] * 3
    assert re.search(r"the host gave others \d+ % of", said)


def test_what_fails_for_one_of_a_busy_morning_ends_it(school, few, monkeypatch):
    prepared(school, load.MORE_TEACHERS % FEW)
    monkeypatch.setattr(load, "VERSION", re.compile(b"it stands elsewhere now"))
    with pytest.raises(TypeError):
        load.a_busy_morning(school.port.number, lambda rounds, _: True)


def test_somebody_reads_while_others_fit_and_guess(school, few, capsys):
    prepared(school, load.MORE_TEACHERS % FEW)
    fits, guesses = f"fit of {FEW} figures, answered 200", "guess, answered 422"
    load.a_crowd(school.port.number, lambda rounds, answers: not {fits, guesses} <= {*answers} or rounds < 2)
    said = capsys.readouterr().out
    assert answered(said, "light page in the crowd") >= 8
    assert answered(said, fits) >= 1
    assert re.search(rf"{guesses} +\d", said)


def test_each_page_of_the_large_school_is_looked_at_and_answers(school, tmp_path):
    prepared(school, load_large.SESSIONS, str(tmp_path / "sessions.json"))
    sessions, found = tmp_path / "sessions.json", tmp_path / "found"
    once = tmp_path / "once.json"
    load_large.looked_at(school.port.number, sessions, found, 10 * PATIENCE_S, KEELTURN_ONCE=str(once))
    failures = json.loads(once.read_text())
    pages = re.findall(r'^    "(/api/[^"]+)",$', (BASE / "tools" / "large_pages.py").read_text(), re.M)
    assert len(pages) > 20
    assert set(pages) - set(failures) == set()
    assert {name: failed for name, failed in failures.items() if failed} == {}
