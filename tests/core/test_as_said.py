"""What a pilot reads, word by word: every limit as it is broken, and every number of a plan with its whole
working, as it stood when somebody last read it through.

After a change that is meant, read what differs and write it anew: KEELTURN_WRITE=1 pytest
tests/core/test_as_said.py"""

import os
from collections.abc import Iterator
from dataclasses import fields, is_dataclass
from pathlib import Path

import pytest

from keelturn.aircraft.card import Card
from keelturn.plan.document import conditions_of
from keelturn.plan.sequence import compute_plan
from keelturn.plan.what_if import closer_look
from keelturn.school.place import Place
from keelturn.school.standards import Standards
from keelturn.working import Answer
from tests import cards
from tests.core.test_limits import CARD, ISLAND, PLACE, STANDARDS, said
from tests.flights import figure, plan

SAID = Path(__file__).parent / "as_said"


# Of the catalogue, and said there; or told twice.
ELSEWHERE = {"faults", "steps", "spoken", "stop_words", "purpose", "look_at", "path", "others"}


def lines_of(found: object, told: set[Answer], indent: str = "") -> Iterator[str]:
    """Everything in it that is said, numbers as they are read; a working that was told is not told again."""
    if isinstance(found, Answer):
        yield f"{indent}{found.label}: {found.shown}"
        if found not in told:
            told.add(found)
            yield f"{indent}  = {found.formula} [{found.source.kind}: {found.source.words}]"
            yield from (f"{indent}    {lever.change}: {lever.shown}" for lever in found.levers)
            for part in found.inputs:
                yield from lines_of(part, told, indent + "    ")
    elif isinstance(found, (str, bool)) and found:
        yield f"{indent}{found!s}"
    elif isinstance(found, (list, tuple)):
        for part in found:
            yield from lines_of(part, told, indent)
    elif is_dataclass(found) or isinstance(found, dict):
        of = found if isinstance(found, dict) else {f.name: getattr(found, f.name) for f in fields(found)}
        for name, part in of.items():
            below = [] if name in ELSEWHERE else list(lines_of(part, told, indent + "    "))
            if len(below) == 1 and isinstance(part, str):
                yield f"{indent}{name}: {below[0].strip()}"
            elif below:
                yield from (f"{indent}{name}", *below)


def held(name: str, found: object) -> None:
    """It is said as it was."""
    text, kept = "\n".join(lines_of(found, set())) + "\n", SAID / f"{name}.txt"
    if os.environ.get("KEELTURN_WRITE") == "1":
        kept.parent.mkdir(exist_ok=True)
        kept.write_text(text)
    assert text.splitlines() == kept.read_text().splitlines()


def broken() -> dict[str, object]:
    """Each limit, broken as in test_limits, and the check that says so."""
    found: dict[str, object] = {}
    for field, (card, document, kind) in CARD.items():
        found[field] = said(document, kind, card)
    for field, (changes, document, kind) in PLACE.items():
        found[field] = said(document, kind, place={**ISLAND, **changes})
    before = Standards()
    for field, (value, document, kind) in STANDARDS.items():
        standard = getattr(before, field).model_copy(update={"value": value})
        found[field] = said(document, kind, standards=before.model_copy(update={field: standard}))
    return found


def test_each_limit_as_it_is_broken():
    held("limits", broken())


HILLS = Place(
    name="Hill block", elevation_ft=420, block_top_ft=7400, place_floor_ft={"value": 3300}, radius_nm=2
)
FLOWN = ("spin", "nose_low", "loop", "slow_roll", "steep_turn", "stall_power_on", "stall_turn")


def computed(*keys):
    figures = [figure(key, start_ft=5600) for key in keys]
    document = plan(*figures, day={"wind_kt": 12, "temperature_c": 24, "cloud_base_ft": 6800})
    card = Card.model_validate(cards.LIGHT)
    here = conditions_of(document, card, HILLS, Standards(), "first flights", None)
    return compute_plan(document, here), closer_look(document.figures[0], here)


@pytest.mark.parametrize("key", FLOWN)
def test_a_figure_with_its_working(key):
    answer, look = computed(key)
    held(key, {"figure": answer.figures[0], "look": look})


def test_a_plan_with_its_working():
    answer, _ = computed("slow_flight", "loop", "spin")
    held("plan", {f.name: getattr(answer, f.name) for f in fields(answer) if f.name != "figures"})
