"""Whatever was computed before, the same question has the same answer: one field of what is asked is changed
in a process that has just answered the unchanged question, and in one that has forgotten everything."""

import importlib
import pkgutil
from dataclasses import replace
from datetime import UTC, date, datetime
from itertools import chain

import pytest

import keelturn
from keelturn.flying.deviations import OwnLoss
from keelturn.margins.checks import Kind
from keelturn.plan.document import conditions_of
from keelturn.plan.sequence import compute_plan
from keelturn.school.dates import Dated
from keelturn.school.standards import FigureStandard, Standards
from keelturn.weather.day import Day, WindAt
from tests.flights import GIVEN, PLACE, TRAINER, figure, plan

BASE = plan(figure("loop", start_ft=6000), figure("incipient_spin", start_ft=6000))
STANDARDS = Standards(figures={"loop": FigureStandard(words="Float over the top.")})
WHEN = datetime(2026, 5, 14, 9, 30, tzinfo=UTC)


def conditions(document=BASE, card=TRAINER, place=PLACE, standards=STANDARDS, stage="practised", **changed):
    made = conditions_of(document, card, place, standards, stage, changed.pop("parachute_days", 30))
    return replace(made, off_blocks=WHEN, **changed)


def varied(document):
    """(path, document) with one of its fields changed, for each number, switch, choice and word that can."""
    written = document.model_dump()
    for path, value in _leaves(written):
        for other in _others(path, value):
            try:
                changed = type(document).model_validate(_put(written, path, other))
            except ValueError:
                continue
            yield ".".join(map(str, path)), changed
            break


def _leaves(written, path=()):
    if isinstance(written, dict):
        parts = written.items()
    elif isinstance(written, (list, tuple)):
        parts = enumerate(written)
    else:
        yield path, written
        return
    for key, value in parts:
        yield from _leaves(value, (*path, key))


def _others(path, value):
    if isinstance(value, bool):
        return [not value]
    if isinstance(value, (int, float)):
        return [value * 1.04 + 0.1, value * 0.96 - 0.1]
    if path[-1] == "source":
        return ["placard", "school", "regulation", "common practice"]
    if value is None:
        return [9, 12.0, "2026-05-14T08:00:00Z", "left", "ball", {"value": 61}, [2000, 3000]]
    return (
        []
        if path[-1] in ("id", "key") or "tanks" in path
        else [f"{value} more", "right", "utility", "constant speed", "mph"]
    )


def _put(dumped, path, value):
    if not path:
        return value
    made = list(dumped) if isinstance(dumped, (list, tuple)) else dict(dumped)
    made[path[0]] = _put(made[path[0]], path[1:], value)
    return made


def asked():
    """(name, plan, conditions): the unchanged question with one thing changed."""
    windy = Day.model_validate({**GIVEN, "wind_kt": 12.0})
    for name, day in chain(varied(windy), [("gusty", Day(gust_kt=25.0))]):
        document = BASE.model_copy(update={"day": day})
        yield f"day.{name}", document, conditions(document)
    winds = BASE.model_copy(update={"day": Day(winds=(WindAt(height_ft=3000, from_deg=200, kt=30),))})
    yield "day.winds", winds, conditions(winds)
    for name, load in varied(BASE.load):
        document = BASE.model_copy(update={"load": load})
        yield f"load.{name}", document, conditions(document)
    for name, place in varied(PLACE):
        yield f"place.{name}", BASE, conditions(place=place)
    for name, card in varied(TRAINER):
        yield f"card.{name}", BASE, conditions(card=card)
    for name, standards in varied(STANDARDS):
        yield f"standards.{name}", BASE, conditions(standards=standards)
    for name, changed in {
        "stage": {"stage": "ready to fly it alone"},
        "own_floor_ft": {"own_floor_ft": 3600.0},
        "parachute_days": {"parachute_days": 400.0},
        "own": {"own": {"loop": OwnLoss(0.8, 0.2, 0.5, 12)}},
        "dates": {"dates": (Dated("person", "Bo", "Medical", date(2026, 5, 1), 30, True),)},
        "weather_due": {"weather_due": True},
    }.items():
        yield name, BASE, conditions(**changed)
    for name, planned in varied(BASE.figures[0]):
        document = BASE.model_copy(update={"figures": (planned, *BASE.figures[1:])})
        yield f"plan.{name}", document, conditions(document)


def forget():
    """Every cache of the core is emptied, whichever there are."""
    for found in pkgutil.walk_packages(keelturn.__path__, "keelturn."):
        if found.name.endswith(("__main__", "stand_in")):
            continue
        for value in vars(importlib.import_module(found.name)).values():
            if callable(value) and hasattr(value, "cache_key"):
                value.cache.clear()
            elif hasattr(value, "cache_clear"):
                value.cache_clear()


def answered(document, c):
    return repr(compute_plan(document, c))


CASES = {name: (document, c) for name, document, c in asked()}
# One of each part in every run, every sixth in the long one; all 330 passed when they were written.
QUICK = (
    "day.gusty",
    "load.baggage_lb",
    "place.elevation_ft",
    "card.limits.rolling_g.value",
    "standards.speed_margin.value",
    "stage",
    "own",
    "dates",
    "weather_due",
    "plan.side",
)


def differing(names):
    """Those answered otherwise in a process that has answered the unchanged question and each before it than
    in a new one; "unchanged" where that question itself is."""
    forget()
    unchanged = answered(BASE, conditions())
    warm = {name: answered(CASES[name][0], replace(CASES[name][1])) for name in names}
    found = [] if answered(BASE, conditions()) == unchanged else ["unchanged"]
    for name, was in warm.items():
        forget()
        found += [] if answered(CASES[name][0], replace(CASES[name][1])) == was else [name]
    return found


def test_a_process_that_has_answered_other_questions_answers_this_one_as_a_new_one_does():
    assert differing(QUICK) == []


@pytest.mark.long
def test_it_does_so_whichever_field_is_changed():
    assert differing(list(CASES)[::6]) == []


def test_the_cases_are_there():
    assert set(CASES) >= set(QUICK)
    assert len(CASES) > 150


def test_gusts_are_in_the_verdict_whichever_was_asked_first():
    def rough(c):
        return any(check.kind == Kind.ROUGH_AIR for check in compute_plan(c_plan(c), c).checks)

    def c_plan(c):
        return BASE.model_copy(update={"day": c.day})

    calm, gusty = conditions(), conditions(CASES["day.gusty"][0])
    forget()
    assert [rough(calm), rough(gusty), rough(calm)] == [False, True, False]
    forget()
    assert [rough(gusty), rough(calm), rough(gusty)] == [True, False, True]
