"""Order and start heights against every order there is, and the changes that are tried when none fits."""

import itertools
import math

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from keelturn.aircraft.loading import AVGAS_LB_USGAL
from keelturn.plan.ordering import DISORDER_FT, PUSH_PULL_FT, Needs, Unknowns, best_order, heights_for
from keelturn.plan.sequence import compute_plan
from keelturn.plan.variations import milder, other_fuel
from tests.flights import conditions, figure, plan

TOP, GROUND = 6500.0, 100.0


def cost(order, needs):
    """Feet of climbing and what the disorder is worth, by hand for one order; None where it does not fit."""
    n, total, height = len(order), 0.0, GROUND
    for place, i in enumerate(order):
        need, highest = needs[i], TOP - needs[i].rise_ft
        if need.lowest_start_ft > highest:
            return None
        start = need.lowest_start_ft if place == 0 else max(need.lowest_start_ft, min(height, highest))
        total += max(0.0, start - height)
        total += DISORDER_FT * need.unsettles * (n - 1 - place) / max(1, n - 1) / 4.0
        if place and needs[order[place - 1]].pushes and need.pulls:
            total += PUSH_PULL_FT
        height = start - need.lost_ft
    return total


some_needs = st.builds(
    Needs,
    lowest_start_ft=st.integers(30, 55).map(lambda n: n * 100.0),
    lost_ft=st.integers(-3, 15).map(lambda n: n * 100.0),
    rise_ft=st.integers(0, 8).map(lambda n: n * 100.0),
    minutes=st.just(1.0),
    unsettles=st.integers(1, 5),
    pushes=st.booleans(),
    pulls=st.booleans(),
)


@settings(max_examples=40, deadline=None)
@given(st.lists(some_needs, min_size=1, max_size=4))
def test_no_order_is_cheaper_than_the_one_found(needs):
    found = best_order(needs, TOP, GROUND)
    costs = [cost(order, needs) for order in itertools.permutations(range(len(needs)))]
    if found is None:
        assert costs == [None] * len(costs)
        return
    order, heights = found
    assert sorted(order) == list(range(len(needs)))
    assert cost(order, needs) <= min(c for c in costs if c is not None) * 1.011 + 1.0
    for i, start in zip(order, heights, strict=True):
        assert needs[i].lowest_start_ft <= start <= TOP - needs[i].rise_ft


def test_nothing_and_what_is_too_high_have_no_order():
    assert best_order([], TOP, GROUND) is None
    assert best_order([Needs(6000, 300, 501, 1, 1, False, False)], TOP, GROUND) is None
    assert best_order([Needs(6000, 300, 500, 1, 1, False, False)], TOP, GROUND) == ([0], [6000])


def test_starts_are_whole_fifties_where_the_block_has_room_and_tens_where_not():
    low, high = Needs(3010, 500, 0, 1, 1, False, False), Needs(6470, 500, 0, 1, 1, False, False)
    assert heights_for([0, 1], [low, high], TOP) == [3050, 6500]
    assert heights_for([0], [high], 6490) == [6470]
    # No climb before it is needed: the second begins where the first left it.
    assert heights_for([1, 0], [low, high], TOP) == [6500, 6000]


def test_every_unknown_has_a_place_of_its_own():
    x = Unknowns(3, ((0, 1), (2, 1)))
    places = [x.at(i, k) for i in range(3) for k in range(3)]
    places += [x.start(k) for k in range(3)] + [x.climb(k) for k in range(3)]
    places += [x.together(p, k) for p in range(2) for k in range(2)]
    assert sorted(places) == list(range(x.size))


def wanted(gallons=18.0, front=150.0):
    load = {"front_lb": front, "rear_lb": 150, "fuel_usgal": {"Centre": gallons}}
    return plan(figure("spin", turns=3), figure("loop"), figure("spin", turns=2), load=load)


WANTED = wanted()
MILDER = {change.words: change for change in milder(WANTED)}


def test_changes_are_tried_the_smallest_first():
    sizes = [change.size for change in milder(WANTED)]
    assert sizes == sorted(sizes)
    assert len(MILDER) == len(sizes)
    assert list(MILDER)[0].endswith("2 turns instead of 3")
    assert list(MILDER)[-1] == "without spin (number 1 and 3)"


@pytest.mark.parametrize(
    ("words", "turns"),
    [
        ("Spin (number 1): 2 turns instead of 3", [2, 2]),
        ("Spin (number 1): 1 turn instead of 3", [1, 2]),
        ("Spin (number 3): 1 turn instead of 2", [3, 1]),
        ("Spin (number 1 and 3): 1 turn instead of 2", [1, 1]),
    ],
)
def test_turns_are_taken_from_one_or_from_all_of_a_kind(words, turns):
    changed = MILDER[words].plan
    assert [f.parameter("turns") for f in changed.figures if f.key == "spin"] == turns
    assert [f.key for f in changed.figures] == [f.key for f in WANTED.figures]
    assert changed.load == WANTED.load


def test_a_gentler_figure_takes_the_place_without_turns_of_the_other():
    gentler = next(c.plan for words, c in MILDER.items() if words.startswith("incipient spin instead"))
    assert gentler.figures[0].key == "incipient_spin"
    assert "turns" not in gentler.figures[0].parameters
    assert [f.key for f in gentler.figures[1:]] == ["loop", "spin"]


def test_a_figure_is_left_out_alone_and_with_its_kind():
    plans = {words: [f.id for f in change.plan.figures] for words, change in MILDER.items()}
    assert plans["without loop (number 2)"] == ["f1", "f3"]
    assert plans["without spin (number 1)"] == ["f2", "f3"]
    assert plans["without spin (number 1 and 3)"] == ["f2"]


def test_no_spin_is_left_without_a_turn():
    turns = [f.parameter("turns") for c in MILDER.values() for f in c.plan.figures if f.key == "spin"]
    assert min(turns) == 1


def fuel_offered(document, **how):
    its = conditions(document)
    found = list(other_fuel(document, its, compute_plan(document, its), **how))
    assert all(change.plan.figures == document.figures for change in found)
    before = document.load.fuel_usgal["Centre"]
    return [round(change.plan.load.fuel_usgal["Centre"] - before, 6) for change in found], found


def test_fuel_is_offered_only_where_it_is_short_from_what_is_needed_to_the_tank():
    tank = next(t for t in conditions().card.balance.tanks if t.name == "Centre")
    assert tank.usable_usgal == 26
    assert fuel_offered(wanted(18))[0] == []
    short, found = fuel_offered(wanted(4))
    lacks = next(c for c in compute_plan(wanted(4), conditions(wanted(4))).checks if c.kind == "fuel")
    rate = 4 / conditions(wanted(4)).loading.aerobatic_minutes.value
    assert short[0] - 1 < -lacks.room * rate <= short[0]
    assert short == list(range(int(short[0]), 9))
    assert found[0].words == f"{short[0]:g} US gal more in Centre"
    assert fuel_offered(wanted(4), even_if_not_enough=True)[0] == list(range(1, 9))


def test_fuel_is_taken_out_of_what_is_too_heavy_by_the_pounds_that_are_over_and_never_below_four():
    heavy = wanted(8, front=400)
    # More than the four gallons that may be taken out of eight weigh.
    over = max(-c.room for c in compute_plan(heavy, conditions(heavy)).checks if "weight" in c.kind)
    assert over > 4 * AVGAS_LB_USGAL
    assert fuel_offered(heavy)[0] == []
    lighter = wanted(22, front=280)
    over = max(-c.room for c in compute_plan(lighter, conditions(lighter)).checks if "weight" in c.kind)
    less, found = fuel_offered(lighter)
    least = math.ceil(over / AVGAS_LB_USGAL - 0.05)
    assert less == [-by for by in range(least, 9)]
    assert f"({least * AVGAS_LB_USGAL:.0f} lb)" in found[0].words
