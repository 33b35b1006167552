"""Between the figures: dives, zooms, climbs, drift, fuel and what the order does to people; and the
proposal."""

import numpy as np
import pytest

from keelturn.aircraft.loading import Load, burned, load_points, usual_fuel, usual_load
from keelturn.flying.costs import fly_usual
from keelturn.margins.checks import Kind
from keelturn.plan.chain import dive_for_speed, exposure, link, zoom_for_height
from keelturn.plan.ground import Moved, carried, drift
from keelturn.plan.ordering import Needs, best_order
from keelturn.plan.proposal import propose
from keelturn.plan.sequence import compute_plan
from keelturn.school.place import Place
from keelturn.weather.day import Day
from tests.flights import HEAVY, PLACE, TRAINER, conditions, figure, plan

C = conditions()


def in_block(document, top_ft):
    return conditions(document, place=Place(name="Block", elevation_ft=0, block_top_ft=top_ft))


def test_a_dive_costs_more_the_more_speed_is_wanted_and_nothing_when_it_is_there():
    assert dive_for_speed(C, 120, 121, 5000) == 0
    small, large = dive_for_speed(C, 80, 100, 5000), dive_for_speed(C, 80, 120, 5000)
    assert 50 < small < large < 1500


def test_speed_left_over_is_worth_height_by_its_energy():
    """(v1^2 - v2^2) / 2g, of which a pilot takes seven tenths: at 100 to 60 kt, 6,080 ft/NM, about 250 ft
    near sea level."""
    assert zoom_for_height(C, 100, 60, 0) == pytest.approx(
        0.7 * (100**2 - 60**2) * 1.688**2 / (2 * 32.174), rel=0.01
    )
    assert zoom_for_height(C, 60, 100, 5000) == 0


def test_a_loop_after_a_climb_needs_a_dive_and_the_climb_pays_for_it():
    joined = link(C, 4000, 90, 5000, 132)
    assert joined.dive_ft > 300
    assert joined.climb_ft == pytest.approx(1000 + joined.dive_ft)


def test_wind_carries_the_figures_downwind():
    windy = conditions(plan(day=Day(wind_from_deg=270, wind_kt=20).model_dump()))
    east, north = carried(windy, np.array([0.0, 20.0, 60.0]), np.array([1500.0, 1200.0, 900.0]))[-1]
    assert east == pytest.approx(20 * 1852 / 60)
    assert north == pytest.approx(0, abs=1e-6)
    found = drift(windy, [Moved("a", 2, 1, 4000, 1852.0), Moved("b", 28, 1, 4000, 0.0)])
    assert found.total.value == pytest.approx(20 * 30 / 60)
    assert (found.work_along.value, found.gained.value) == (270, pytest.approx(1))


def test_figures_burn_from_the_tank_that_may_feed_them_and_climbs_from_the_others():
    balance = HEAVY.balance
    full = {"Aerobatic": 16.0, "Wings": 10.0}
    assert burned(balance, full, 20, aerobatic=False) == {"Aerobatic": 16.0, "Wings": 4.0}
    assert burned(balance, full, 20, aerobatic=True) == {"Aerobatic": 10.0, "Wings": 10.0}
    assert burned(balance, full, 600, aerobatic=True) == {"Aerobatic": 0.0, "Wings": 0.0}


def test_a_plan_begins_with_fuel_only_where_figures_may_be_flown_from():
    assert usual_fuel(HEAVY.balance) == {"Aerobatic": 11.2}
    worn, bare = (usual_load(TRAINER.balance, 150, 178, parachutes=p) for p in (True, False))
    assert (worn.front_parachute_lb, worn.rear_parachute_lb, bare.front_parachute_lb) == (15, 15, 0)
    assert worn.fuel_usgal == {"Centre": 18.2}


def test_weight_falls_and_speeds_with_it_from_take_off_to_the_end():
    points = load_points(TRAINER, Load(front_lb=170, rear_lb=170, fuel_usgal={"Centre": 24}), 10, 25, 3)
    assert [p.when for p in points] == ["take-off", "first figure", "end", "landing"]
    for falls in (
        [p.loading.weight.value for p in points],
        [p.stall.value for p in points],
        [p.manoeuvring.value for p in points],
    ):
        assert falls[0] > falls[1] > falls[2] > falls[3]
    assert points[0].loading.weight.value - points[2].loading.weight.value == pytest.approx(35 / 60 * 9.5 * 6)


def test_balance_that_leaves_the_limits_as_fuel_burns_is_a_stop():
    """A tank far forward: full it is inside, empty it is too far aft."""
    tanks = tuple(t.model_copy(update={"arm_in": 10.0}) for t in TRAINER.balance.tanks)
    card = TRAINER.model_copy(
        update={
            "balance": TRAINER.balance.model_copy(
                update={
                    "tanks": tanks,
                    "aerobatic_aft_in": TRAINER.balance.aerobatic_aft_in.model_copy(update={"value": 45.8}),
                }
            )
        }
    )
    document = plan(
        figure("spin"), figure("spin"), load={"front_lb": 170, "rear_lb": 170, "fuel_usgal": {"Centre": 22}}
    )
    from keelturn.plan.document import conditions_of
    from keelturn.school.standards import Standards

    found = compute_plan(document, conditions_of(document, card, PLACE, Standards(), "practised", 30)).checks
    assert any(c.id == "balance_end" and c.verdict == "stop" for c in found)
    assert not any(c.id == "balance" and c.verdict == "stop" for c in found)


def test_a_push_straight_before_a_hard_pull_is_minded_and_so_is_too_much():
    flown = [
        (f, fly_usual(f, C))
        for f in (figure("slow_roll", id="a"), figure("loop", id="b"), figure("steep_turn", id="c"))
    ]
    people = exposure(flown, C)
    assert people.pushes_before_pulls == (("a", "b"),)
    assert people.passes_limit_at is None
    assert exposure(flown, C, limit=3).passes_limit_at == "b"
    checks = compute_plan(plan(figure("slow_roll"), figure("loop")), C).checks
    assert any(c.id == "order_f2" and c.verdict == "mind" for c in checks)


def test_a_figure_that_rises_out_of_the_block_is_a_stop():
    document = plan(figure("loop", start_ft=6000))
    stops = [c for c in compute_plan(document, conditions(document)).checks if c.id == "top_f1"]
    assert stops[0].verdict == "stop" and "Rises to 6,7" in stops[0].sentence


def test_the_cheapest_order_spends_height_before_it_climbs():
    """Three figures whose floors fall by what each loses: flown in that order no climb is needed between
    them."""
    needs = [Needs(low, 500, 0, 1, 3, False, False) for low in (3000, 4000, 3500)]
    order, heights = best_order(needs, 6000, 0)
    assert order == [1, 2, 0]
    assert heights == [4000, 3500, 3000]


def test_no_push_straight_before_a_pull_where_another_order_is_as_cheap():
    needs = [
        Needs(3000, 0, 0, 1, 3, True, False),
        Needs(3000, 0, 0, 1, 3, False, True),
        Needs(3000, 0, 0, 1, 3, False, False),
    ]
    order, _ = best_order(needs, 6000, 0)
    assert (order.index(0) + 1) != order.index(1)


def test_what_is_proposed_keeps_floor_and_block():
    document = plan(
        *(figure(key) for key in ("spin", "loop", "steep_turn", "half_cuban", "nose_low")),
        load={"front_lb": 170, "rear_lb": 170, "fuel_usgal": {"Centre": 22}},
    )
    c = in_block(document, 6000)
    found = propose(document, c)
    assert found.fits and found.changes == ()
    heights = [check for check in compute_plan(found.plan, c).checks if check.kind in (Kind.FLOOR, Kind.TOP)]
    assert all(check.verdict != "stop" for check in heights)
    assert {f.key for f in found.plan.figures} == {f.key for f in document.figures}
    # The proposal's minutes are those that the plan itself will show: nearly, because it asks for losses at
    # the top of the block.
    assert found.minutes == pytest.approx(compute_plan(found.plan, c).minutes.value, abs=0.5)


def test_the_smallest_change_is_a_turn_fewer_before_a_figure_less():
    document = plan(figure("spin", turns=4), figure("steep_turn"))
    found = propose(document, in_block(document, 4600))
    assert found.fits
    assert found.changes == ("Spin (number 1): 3 turns instead of 4",)
    assert "more than the block has" in found.why


def test_too_little_fuel_is_mended_with_fuel_and_what_cannot_be_mended_is_said():
    thirsty = plan(
        figure("spin"), figure("loop"), load={"front_lb": 170, "rear_lb": 170, "fuel_usgal": {"Centre": 5}}
    )
    found = propose(thirsty, in_block(thirsty, 6500))
    assert found.fits and "US gal more" in found.changes[0]
    shallow = plan(figure("spin", turns=6), figure("spin", turns=6))
    hopeless = propose(shallow, in_block(shallow, 3500))
    assert not hopeless.fits and hopeless.plan is None
    assert "Spin needs" in hopeless.why


ALOFT = {"front_lb": 170, "rear_lb": 170, "fuel_usgal": {"Centre": 22}}


def starts(found):
    return {f.id: f.start_ft for f in found.figures}


def test_only_the_figures_that_break_something_are_moved_and_only_to_where_they_are_fine():
    """Three that stand where they may, one too low, one that rises out of the block."""
    document = plan(
        figure("steep_turn", start_ft=5000),
        figure("spin", start_ft=3500),
        figure("nose_low", start_ft=5300),
        figure("loop", start_ft=5900),
        load=ALOFT,
    )
    c = in_block(document, 6500)
    found = propose(document, c)
    was, now = starts(document), starts(found.plan)
    assert {name for name in was if was[name] != now[name]} == {"f2", "f4"}
    answers = {figure.id: figure for figure in compute_plan(found.plan, c).figures}
    lowest = answers["f2"].lowest_start.value
    assert lowest + 200 <= now["f2"] < lowest + 260
    assert 6440 < answers["f4"].highest_point.value <= 6500
    moved = sum(abs(was[name] - now[name]) for name in was)
    assert found.headline == f"2 starts moved, {moved:,.0f} ft in all"
    assert found.changes == ()


def test_fuel_that_is_short_is_added_and_no_start_is_moved_with_it():
    thirsty = plan(figure("spin"), figure("loop", start_ft=5400), load={**ALOFT, "fuel_usgal": {"Centre": 5}})
    c = in_block(thirsty, 6500)
    found = propose(thirsty, c)
    assert starts(found.plan) == starts(thirsty)
    assert found.headline == found.changes[0]
    # One gallon less would not have been enough.
    aboard = found.plan.load.fuel_usgal["Centre"]
    scarce = thirsty.model_copy(
        update={"load": thirsty.load.model_copy(update={"fuel_usgal": {"Centre": aboard - 1}})}
    )
    kinds = [s.kind for s in compute_plan(scarce, in_block(scarce, 6500)).checks if s.verdict == "stop"]
    assert Kind.FUEL in kinds


def test_another_order_is_proposed_only_to_part_a_push_from_a_hard_pull():
    bad = plan(figure("slow_roll"), figure("loop", start_ft=5400), figure("steep_turn"), load=ALOFT)
    c = in_block(bad, 6500)
    found = propose(bad, c)
    assert compute_plan(bad, c).exposure.pushes_before_pulls == (("f1", "f2"),)
    assert compute_plan(found.plan, c).exposure.pushes_before_pulls == ()
    assert found.headline.startswith("another order")
    good = bad.model_copy(update={"figures": (bad.figures[1], bad.figures[2], bad.figures[0])})
    assert propose(good, in_block(good, 6500)).headline == ""


def test_where_one_change_is_not_enough_two_are_taken_and_all_is_named():
    """Eight gallons more than four are not enough for so many spins."""
    spins = (figure("spin", start_ft=6000, turns=3) for _ in range(22))
    many = plan(*spins, load={**ALOFT, "fuel_usgal": {"Centre": 4}})
    c = in_block(many, 6500)
    found = propose(many, c)
    assert found.fits and len(found.changes) == 2
    assert "US gal more in Centre" in found.changes[0]
    assert found.headline.startswith("; ".join(found.changes))
    its = compute_plan(found.plan, in_block(found.plan, 6500)).checks
    assert not [s for s in its if s.verdict == "stop" and s.kind in (Kind.FUEL, Kind.FLOOR, Kind.TOP)]
