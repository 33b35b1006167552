"""Bad documents: what is wrong, where, and what to do; nothing is half taken."""

import pytest

from keelturn.aircraft.card import Card
from keelturn.aircraft.loading import loading
from keelturn.formats.documents import Flown
from keelturn.formats.reading import Refused, read_document
from keelturn.noting.attempt import Attempt, disagreements
from keelturn.plan.briefing import Brief
from keelturn.plan.document import PlanDocument
from tests.cards import LIGHT
from tests.flights import TRAINER, figure, plan

GOOD = plan(figure("spin")).model_dump(mode="json")


def broken(path: str, value: object) -> dict:
    import copy

    document = copy.deepcopy(GOOD)
    at = document
    *way, last = path.split(".")
    for step in way:
        at = at[int(step)] if step.isdigit() else at[step]
    at[last] = value
    return document


@pytest.mark.parametrize(
    ("path", "value", "where", "what"),
    [
        ("load.front_lb", -20, "load.front_lb", "-20 is below 0"),
        ("figures.0.start_ft", 90000, "figures[0].start_ft", "90,000 is above 30,000"),
        ("figures.0.start_ft", "high", "figures[0].start_ft", "'high' is not a number"),
        ("day.qnh_hpa", 29.92, "day.qnh_hpa", "29.92 is below 900"),
        ("figures.0.heigth", 3, "figures[0].heigth", "not known"),
        ("figures.0.key", "barrel", "figures[0]", "no figure 'barrel'"),
        ("figures.0.parameters", {"turns": 60}, "figures[0].parameters.turns", "60 is outside 0.25 to 6"),
        ("figures.0.parameters", {"loops": 1}, "figures[0].parameters.loops", "no such setting"),
        ("figures.0.side", "up", "figures[0].side", "not one of"),
        ("load.front_lb", None, "load.front_lb", "is missing"),
        ("version", 2, "version", "not one of"),
    ],
)
def test_plans_are_refused_with_the_place_and_a_way_out(path, value, where, what):
    with pytest.raises(Refused) as refused:
        read_document(PlanDocument, broken(path, value))
    problem = refused.value.problems[0]
    assert problem.where == where
    assert what in problem.what
    assert problem.do.endswith(".")


def test_every_problem_is_told_at_once():
    document = broken("load.front_lb", -20)
    document["day"]["temperature_c"] = 400
    with pytest.raises(Refused) as refused:
        read_document(PlanDocument, document)
    assert {p.where for p in refused.value.problems} == {"load.front_lb", "day.temperature_c"}


@pytest.mark.parametrize(
    ("fuel", "words"),
    [({"Wing": 3}, "no tank 'Wing'"), ({"Centre": 99}, "outside 0 to 26"), ({"Centre": -1}, "outside")],
)
def test_fuel_that_does_not_fit_the_card(fuel, words):
    document = plan(load={"front_lb": 170, "rear_lb": 0, "fuel_usgal": fuel})
    with pytest.raises(ValueError, match=words):
        loading(TRAINER, document.load)


def test_loading_adds_up_by_hand():
    """1130 lb at 47.2 in, 340 lb at 54, 108 lb of fuel at 44: 1578 lb at 48.45 in."""
    found = loading(TRAINER, plan().load)
    assert found.weight.value == pytest.approx(1578)
    assert found.arm.value == pytest.approx((1130 * 47.2 + 340 * 54 + 108 * 44) / 1578)
    assert found.aerobatic_minutes.value == pytest.approx(18 / 9.5 * 60)


@pytest.mark.parametrize(
    ("part", "changes", "words"),
    [
        ("speeds", {"stall_ias": {"value": 130}}, "the stall"),
        ("speeds", {"glide_ias": {"value": 40}}, "best glide"),
        ("limits", {"least_g": {"value": 1}}, "least g"),
        ("speeds", {"never_exceed_ias": {"value": -1}}, "greater than 0"),
    ],
)
def test_cards_that_contradict_themselves_are_refused(part, changes, words):
    with pytest.raises(ValueError, match=words):
        Card.model_validate({**LIGHT, part: {**LIGHT[part], **changes}})


def attempt(**fields):
    return read_document(Attempt, {"id": "a1", "planned": figure("spin").model_dump(), **fields})


@pytest.mark.parametrize(
    ("fields", "words"),
    [
        ({"faults": ["long_way"]}, "no fault 'long_way'"),
        ({"feel": 11}, "11 is above 10"),
        ({"start_ft": -5}, "below 0"),
    ],
)
def test_attempts_that_cannot_have_happened(fields, words):
    with pytest.raises(Refused, match=words):
        attempt(**fields)


@pytest.mark.parametrize(
    ("fields", "where", "words"),
    [
        ({"start_ft": 4000, "lowest_ft": 4200}, "lowest_ft", "4,200 ft is above start, 4,000 ft"),
        (
            {"start_ft": 4000, "recover_ft": 3000, "lowest_ft": 3200},
            "lowest_ft",
            "3,200 ft is above recover, 3,000 ft",
        ),
        ({"lowest_ft": 3000, "level_ft": 2979}, "level_ft", "2,979 ft is below lowest, 3,000 ft"),
        # A hand and a recorder read the same height so far apart.
        ({"lowest_ft": 3000, "level_ft": 2980}, None, ""),
        ({"start_ft": 4000, "recover_ft": 4000, "lowest_ft": 4000, "level_ft": 4000}, None, ""),
    ],
)
def test_heights_that_cannot_all_be_right_are_kept_and_said(fields, where, words):
    found = disagreements(attempt(**fields))
    assert [(w, what) for w, what, _ in found] == ([] if where is None else [(where, words)])
    asked = {"figure": figure("spin").model_dump(), "noted": attempt(**fields).model_dump()}
    if where is not None:
        with pytest.raises(Refused, match=f"noted.{where}: {words}"):
            read_document(Flown, asked)


def test_an_empty_attempt_is_fine_everything_can_be_filled_in_later():
    assert attempt().lost_ft is None


def test_the_before_flight_list_has_only_its_own_items():
    with pytest.raises(Refused, match="no item 'coffee'"):
        read_document(Brief, {"checked": ["coffee"]})
