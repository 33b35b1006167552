"""The way in names every room, and names none that is not there."""

import re
from pathlib import Path

import pytest

BASE = Path(__file__).parents[2]
WAY_IN = (BASE / "docs" / "how-it-works.md").read_text()
NAMED = set(re.findall(r"\b[A-Za-z_][A-Za-z_.]*\.(?:py|tsx|ts)\b", WAY_IN))
ROOMS = set(re.findall(r"`([a-z_/]+)/`", WAY_IN))
ROOTS = ("keelturn", "server", "web/src", "tools", "tests")
FAMILIES = {"coordination", "stalls", "spins", "rolls", "loops", "lines", "upsets"}


def files_of(part: str, *endings: str) -> list[Path]:
    found = (path for path in (BASE / part).rglob("*") if path.suffix in endings)
    return [path for path in found if "migrations" not in path.parts and not path.stem.startswith("__")]


@pytest.mark.parametrize("name", sorted(NAMED))
def test_what_the_way_in_names_is_there(name):
    everywhere = (files_of(part, ".py", ".ts", ".tsx") for part in ROOTS)
    assert name in {path.name for part in everywhere for path in part}


@pytest.mark.parametrize(
    "path", [p for p in files_of("keelturn", ".py") if p.stem not in FAMILIES], ids=lambda p: p.name
)
def test_every_module_of_the_core_is_named(path):
    assert path.name in NAMED
    assert path.parent.name in ROOMS | {"keelturn"}


@pytest.mark.parametrize("path", files_of("web/src/sortie", ".ts", ".tsx"), ids=lambda p: p.name)
def test_every_file_of_a_sorties_page_has_its_room(path):
    assert path.name in NAMED or ".test." in path.name or path.parent.name in ("debrief", "sign")
    assert str(path.parent.relative_to(BASE / "web" / "src")) in ROOMS
