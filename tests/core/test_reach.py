"""What a number can be at all: at the edge it is taken, beyond it refused in its place, and only at the
door."""

import pytest

from keelturn.aircraft.card import Card
from keelturn.aircraft.reach import REACH, beyond_reach
from keelturn.formats.documents import PredictRequest
from keelturn.formats.reading import Refused, read_document
from tests.cards import HEAVY, LIGHT, NO_SPINS, changed

EDGES = [
    ("speeds", "reference_lb", "lb"),
    ("speeds", "climb_fpm", "fpm"),
    ("limits", "inverted_s", "s"),
    ("roll", "left_deg_s", "°/s"),
    ("spin", "left_factor", "×"),
    ("spin", "further_turn_ft", "ft"),
    ("balance", "aerobatic_burn_usgal_h", "US gal/h"),
]


def with_number(part, name, value):
    return Card.model_validate(changed(LIGHT, **{part: {name: {"value": value}}}))


@pytest.mark.parametrize("card", [LIGHT, HEAVY, NO_SPINS], ids=["light", "heavy", "no spins"])
def test_the_cards_of_the_tests_are_within_it(card):
    assert list(beyond_reach(Card.model_validate(card))) == []


@pytest.mark.parametrize(("part", "name", "unit"), EDGES)
def test_the_edge_is_taken_and_what_is_beyond_it_is_not(part, name, unit):
    least, most = REACH[unit]
    assert list(beyond_reach(with_number(part, name, most))) == []
    (where, what, do), *others = beyond_reach(with_number(part, name, most * 1.01))
    assert (where, others) == (f"{part}.{name}", [])
    assert f"{most:g}" in what and do
    if least > 0.0:
        assert list(beyond_reach(with_number(part, name, least))) == []
        assert [place for place, *_ in beyond_reach(with_number(part, name, least * 0.99))] == [
            f"{part}.{name}"
        ]


def test_speeds_arms_and_tables_are_looked_at_where_they_stand():
    tank = {**LIGHT["balance"]["tanks"][0], "arm_in": -1001.0}
    card = {**changed(LIGHT, balance={"tanks": [tank]}), "position_error": [{"ias": 14.0, "cas": 20.0}]}
    variants = {"flat": {"further_turn_ft": {"value": 30001}}}
    card = changed(card, spin={"variants": variants})
    assert [where for where, *_ in beyond_reach(Card.model_validate(card))] == [
        "balance.tanks[0].arm_in",
        "position_error[0].ias",
        "spin.variants.flat.further_turn_ft",
    ]


def test_it_is_asked_at_the_door_and_not_of_what_is_kept():
    old = changed(LIGHT, limits={"inverted_s": {"value": 900}})
    assert Card.model_validate(old).limits.inverted_s.value == 900
    with pytest.raises(Refused) as refusal:
        read_document(PredictRequest, {"version": 1, "card": old})
    assert [problem.where for problem in refusal.value.problems] == ["card.limits.inverted_s"]
