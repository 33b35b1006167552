"""The way in names every room, and names none that is not there."""

import re
from pathlib import Path

BASE = Path(__file__).parents[2]
WAY_IN = (BASE / "docs" / "how-it-works.md").read_text()
NAMED = set(re.findall(r"\b[A-Za-z_][A-Za-z_.]*\.(?:py|tsx|ts)\b", WAY_IN))
ROOMS = set(re.findall(r"`([a-z_/]+)/`", WAY_IN))
ROOTS = ("keelturn", "server", "web/src", "tools", "tests")
FAMILIES = {"coordination", "stalls", "spins", "rolls", "loops", "lines", "upsets"}


def files_of(part: str, *endings: str) -> list[Path]:
    found = (path for path in (BASE / part).rglob("*") if path.suffix in endings)
    return [path for path in found if "migrations" not in path.parts and not path.stem.startswith("__")]


def test_what_the_way_in_names_is_there():
    everywhere = (files_of(part, ".py", ".ts", ".tsx") for part in ROOTS)
    assert NAMED - {path.name for part in everywhere for path in part} == set()


def test_every_module_of_the_core_is_named_with_its_room():
    modules = [path for path in files_of("keelturn", ".py") if path.stem not in FAMILIES]
    assert {path.name for path in modules} - NAMED == set()
    assert {path.parent.name for path in modules} - ROOMS - {"keelturn"} == set()


def test_every_file_of_a_sorties_page_has_its_room():
    files = files_of("web/src/sortie", ".ts", ".tsx")
    unnamed = [p for p in files if p.parent.name not in ("debrief", "sign") and ".test." not in p.name]
    assert {path.name for path in unnamed} - NAMED == set()
    assert {str(path.parent.relative_to(BASE / "web" / "src")) for path in files} - ROOMS == set()
