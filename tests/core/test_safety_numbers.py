"""The numbers that keep somebody alive, each worked by hand, at its edge and beyond it: what a wrong side, a
wrong limit or a forgotten second would do to them shows here."""

import math
from datetime import UTC, datetime

import pytest

from keelturn.air import RHO0
from keelturn.aircraft.card import Card
from keelturn.aircraft.loading import Load, fitted
from keelturn.figures.catalogue import FIGURES
from keelturn.flying.costs import fly_usual
from keelturn.margins.checks import Kind, Verdict
from keelturn.margins.floors import floor_of, leave_height, turns_allowed
from keelturn.margins.gates import entry_gate
from keelturn.plan.document import Override, conditions_of
from keelturn.plan.overrides import given_for, holds
from keelturn.plan.sequence import compute_plan
from keelturn.school.place import Place
from keelturn.school.standards import FigureStandard, Standard, Standards
from keelturn.units import FT
from keelturn.working import Source, given
from tests import cards
from tests.flights import HEAVY, PLACE, conditions, figure, plan


def card(**parts):
    return Card.model_validate(cards.changed(cards.LIGHT, **parts))


def on(document, its_card):
    """On this card, with the load as it is."""
    return conditions_of(document, its_card, PLACE, Standards(), "practised", 30)


def checks_of(kind, document, its_card=None):
    here = conditions(document) if its_card is None else on(document, its_card)
    return [check for check in compute_plan(document, here).checks if check.kind == kind]


def placarded(value):
    return {"value": value, "source": "placard"}


def feet(label, value):
    return given(label, value, "ft", Source("plan", "by hand"))


# Leaving the aircraft


@pytest.mark.parametrize(
    ("changed", "more_s", "more_ft"),
    [
        ({}, 0, 0),
        ({"decide_s": Standard(value=7)}, 2, 0),
        ({"egress_s": Standard(value=14)}, 4, 0),
        ({"canopy_ft": Standard(value=800)}, 0, 300),
    ],
)
def test_the_height_to_leave_at_pays_for_every_second_and_the_canopy(changed, more_s, more_ft):
    """(5 s to decide + 10 s to get out) of descent, 500 ft of canopy, the ground."""
    here = conditions(standards=Standards(**changed))
    rate = here.spin.descent(here.weight_lb, here.air.density(0.0) / RHO0) / FT
    assert 60 < rate < 130
    assert leave_height(here).value == pytest.approx((15 + more_s) * rate + 500 + more_ft)


def test_over_high_ground_the_aircraft_is_left_higher_by_more_than_the_ground():
    """Thinner air, faster descent: by the root of the density, never the other way."""
    low, high = conditions(), conditions(place=Place(name="Plateau", elevation_ft=6000, block_top_ft=12000))
    thinner = low.air.density(0.0) / high.air.density(6000 * FT)
    assert thinner > 1.2
    descent = leave_height(low).value - 500
    assert leave_height(high).value - 6000 - 500 == pytest.approx(descent * math.sqrt(thinner))


# Turns


@pytest.mark.parametrize(
    ("start", "allowed", "shown"),
    [(4000, 1.0, "1"), (4299, 1.996, "1.5"), (4300, 2.0, "2"), (4449, 2.496, "2"), (3999, 0.0, "0")],
)
def test_turns_are_paid_for_by_height_and_never_rounded_up(start, allowed, shown):
    """One turn is planned, its lowest start is 4,000 ft, each further one takes 300 ft."""
    found = turns_allowed(1.0, feet("Start", start), feet("Lowest", 4000), feet("Each further turn", 300))
    assert found.value == pytest.approx(allowed, abs=0.01)
    assert float(found.number) == float(shown)


# Weight and balance


@pytest.mark.parametrize(
    ("forward", "aft", "room", "limit"),
    [
        (-1.0, 5.0, 1.0, "Forward limit"),
        (-5.0, 1.0, 1.0, "Aft limit"),
        (0.5, 5.0, -0.5, "Forward limit"),
        (-5.0, -0.5, -0.5, "Aft limit"),
    ],
)
def test_the_centre_of_gravity_is_held_against_the_nearer_limit_from_its_own_side(forward, aft, room, limit):
    """Limits so many inches from where it is."""
    arm = conditions().loading.arm.value
    limits = {"aerobatic_forward_in": placarded(arm + forward), "aerobatic_aft_in": placarded(arm + aft)}
    check = next(c for c in checks_of(Kind.BALANCE, plan(), card(balance=limits)) if c.limit is not None)
    assert (check.limit.label, check.room) == (limit, pytest.approx(room))
    assert check.verdict == (Verdict.STOP if room < 0 else Verdict.FINE)
    # Said only beyond a limit, and of that one.
    assert ("ahead of the forward limit" in check.sentence) == (room < 0 and limit == "Forward limit")
    assert ("behind the aft limit" in check.sentence) == (room < 0 and limit == "Aft limit")
    assert ("a spin may not stop" in check.sentence) == (room < 0 and limit == "Aft limit")
    away = "aft" if limit == "Forward limit" else "forward"
    assert check.hint == ("" if room > 0 else f"Move weight {away}.")


@pytest.mark.parametrize(("most", "verdict"), [(25, "fine"), (10, "mind"), (-1, "stop")])
def test_the_weight_for_spins_is_held_against_the_limit_for_spins(most, verdict):
    """Not against the one for aerobatics, which lies elsewhere."""
    document = plan(figure("spin"))
    weight = conditions(document).loading.weight.value
    limited = card(spin={"most_lb": placarded(weight + most)})
    (check,) = checks_of(Kind.SPIN_WEIGHT, document, limited)
    assert (check.verdict, check.room) == (verdict, pytest.approx(most))
    assert checks_of(Kind.SPIN_WEIGHT, plan(figure("loop")), limited) == []


@pytest.mark.parametrize(
    ("aboard", "left"),
    [
        ({"Centre": 18, "Aerobatic": 9}, {"Aerobatic": 9}),
        ({"Aerobatic": 17, "Wings": 3}, {"Aerobatic": 16, "Wings": 3}),
        ({}, {"Aerobatic": 11.2}),
    ],
)
def test_fuel_goes_into_the_tanks_that_there_are_and_no_more_than_they_take(aboard, left):
    """A card whose tanks are others: 16 US gallons in the aerobatic one, which a plan begins 0.7 full."""
    load = Load(front_lb=150, rear_lb=150, fuel_usgal=aboard)
    assert fitted(load, HEAVY.balance).fuel_usgal == pytest.approx(left)


# Va


@pytest.mark.parametrize("heavier", [-200.0, 0.0, 100.0])
def test_va_goes_with_the_root_of_the_weight_and_is_never_above_the_cards(heavier):
    """The aircraft is so much heavier than the weight that the card's speeds are for."""
    weight = conditions().loading.weight.value
    speeds = {"reference_lb": placarded(weight - heavier), "manoeuvring_ias": placarded(110)}
    found = on(plan(), card(speeds=speeds)).manoeuvring.value
    root = math.sqrt(weight / (weight - heavier))
    assert found == pytest.approx(110 * root if heavier < 0 else 110)


BOUND = [figure.key for figure in FIGURES if figure.gate.full_controls]


@pytest.mark.parametrize("key", BOUND)
def test_entered_with_full_controls_above_va_is_minded(key):
    va = conditions().manoeuvring.value
    assert checks_of(Kind.VA, plan(figure(key, entry_ias=math.floor(va)))) == []
    assert [c.verdict for c in checks_of(Kind.VA, plan(figure(key, entry_ias=math.ceil(va) + 1)))] == ["mind"]


@pytest.mark.parametrize("key", BOUND)
def test_the_gate_of_full_controls_ends_at_va(key):
    here = conditions()
    gate = entry_gate(figure(key), here)
    assert gate.highest is not None
    assert gate.highest.value <= here.manoeuvring.value < 0.8 * here.card.speeds.never_exceed_ias.value
    assert gate.best.value <= here.manoeuvring.value


@pytest.mark.parametrize("kept", [5, 30])
def test_a_gate_that_may_go_on_to_vne_keeps_the_schools_margin_below_it(kept):
    here = conditions(standards=Standards(speed_margin=Standard(value=kept)))
    most, key = here.card.speeds.never_exceed_ias.value - kept, "stall_turn"
    assert here.fastest_allowed.value == most
    entered = entry_gate(figure(key), here).highest.value
    assert most - 2 < fly_usual(figure(key, entry_ias=entered), here).fastest_ias <= most + 0.3


# Floors


@pytest.mark.parametrize(("own", "floor"), [(1000, 3000), (2999, 3000), (3000, 3000), (3600, 3600)])
def test_the_floor_of_a_figure_raises_the_floor_and_never_lowers_it(own, floor):
    here = conditions(standards=Standards(figures={"loop": FigureStandard(floor_ft=Standard(value=own))}))
    assert floor_of("loop", here).value == floor
    assert floor_of("spin", here).value == 3000


# Overrides of what nothing measures


def later(gallons):
    """Outside the limits as fuel burns: the checks that only say so."""
    load = {"front_lb": 155, "rear_lb": 155, "fuel_usgal": {"Centre": gallons}}
    aft = card(balance={"aerobatic_aft_in": placarded(conditions().loading.arm.value - 1.0)})
    return [c for c in checks_of(Kind.BALANCE, plan(figure("loop"), load=load), aft) if c.limit is None]


def test_where_nothing_measures_how_far_an_override_is_for_the_same_number():
    full, less = later(18.0)[0], later(4.0)[0]
    assert (full.id, full.title, full.room) == (less.id, less.title, 0.0)
    assert full.deciding.shown != less.deciding.shown
    asked = Override(id="o", check=full.id, reason="Ballast is coming aboard")
    made = given_for(asked, [full], "Bo", datetime(2026, 11, 26, tzinfo=UTC))
    assert holds(made, full)
    assert not holds(made, less)
