"""Order and start heights against every order there is, and the changes that are tried when none fits."""

import itertools

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from keelturn.aircraft.loading import AVGAS_LB_USGAL
from keelturn.plan.ordering import DISORDER_FT, PUSH_PULL_FT, Needs, Unknowns, best_order, heights_for
from keelturn.plan.variations import variations
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


def wanted(gallons=18.0):
    load = {"front_lb": 150, "rear_lb": 150, "fuel_usgal": {"Centre": gallons}}
    return plan(figure("spin", turns=3), figure("loop"), figure("spin", turns=2), load=load)


WANTED = wanted()


def changes(document=WANTED):
    return variations(document, conditions(document))


def test_changes_are_tried_the_smallest_first():
    sizes = [size for size, _, _ in changes()]
    assert sizes == sorted(sizes)
    words = [words for _, words, _ in changes()]
    assert len(set(words)) == len(words)
    assert "US gal less" in words[0]
    assert words[-1] == "without spin (number 1 and 3)"


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
    changed = next(plan for _, said, plan in changes() if said == words)
    assert [f.parameter("turns") for f in changed.figures if f.key == "spin"] == turns
    assert [f.key for f in changed.figures] == [f.key for f in WANTED.figures]
    assert changed.load == WANTED.load


def test_a_gentler_figure_takes_the_place_without_turns_of_the_other():
    gentler = next(plan for _, said, plan in changes() if said.startswith("incipient spin instead"))
    assert gentler.figures[0].key == "incipient_spin"
    assert "turns" not in gentler.figures[0].parameters
    assert [f.key for f in gentler.figures[1:]] == ["loop", "spin"]


def test_a_figure_is_left_out_alone_and_with_its_kind():
    plans = {said: [f.id for f in plan.figures] for _, said, plan in changes()}
    assert plans["without loop (number 2)"] == ["f1", "f3"]
    assert plans["without spin (number 1)"] == ["f2", "f3"]
    assert plans["without spin (number 1 and 3)"] == ["f2"]


@pytest.mark.parametrize(
    ("aboard", "less", "more"),
    [
        (5.9, [], [2, 4, 8]),
        (6, [2], [2, 4, 8]),
        (18, [2, 4, 6], [2, 4, 8]),
        (22, [2, 4, 6], [2, 4]),
        (24.5, [2, 4, 6], []),
    ],
)
def test_fuel_is_taken_down_to_four_gallons_and_added_up_to_the_tank(aboard, less, more):
    tank = next(t for t in conditions().card.balance.tanks if t.name == "Centre")
    assert tank.usable_usgal == 26
    document = wanted(aboard)
    fuel = [plan for _, said, plan in changes(document) if "US gal" in said and "Centre" in said]
    moved = [round(plan.load.fuel_usgal["Centre"] - aboard, 6) for plan in fuel]
    assert sorted(-by for by in moved if by < 0) == less
    assert sorted(by for by in moved if by > 0) == more
    assert all(plan.figures == document.figures for plan in fuel)


def test_less_fuel_says_the_pounds():
    assert f"2 US gal less in Centre ({2 * AVGAS_LB_USGAL:.0f} lb)" in [said for _, said, _ in changes()]


def test_no_spin_is_left_without_a_turn():
    turns = [f.parameter("turns") for _, _, plan in changes() for f in plan.figures if f.key == "spin"]
    assert min(turns) == 1
