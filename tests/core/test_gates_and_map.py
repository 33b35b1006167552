"""Entry gates by root finding, the map, and figures that cannot be made."""

import numpy as np
import pytest

from keelturn.figures.catalogue import FIGURES
from keelturn.flying.costs import fly_usual
from keelturn.flying.course import closing
from keelturn.flying.entry import entry_speed
from keelturn.margins.gates import FINE, OVER_BLOCK, TOO_FAST, TOO_HARD, TOO_SLOW, entry_gate, entry_map
from keelturn.plan.sequence import compute_plan
from keelturn.school.place import Place
from keelturn.units import FT
from tests.flights import HEAVY, TRAINER, conditions, figure, plan
from tests.long import every_third

C, H = conditions(), conditions(card=HEAVY)
CARDS = pytest.mark.parametrize("card", [TRAINER, HEAVY], ids=["light", "heavy"])


@pytest.mark.parametrize("key", ["loop", "half_loop_roll_out", "half_cuban", "quarter_clover"])
def test_just_above_the_lowest_speed_it_is_made_and_just_below_it_is_not(key):
    gate = entry_gate(figure(key), C)
    assert fly_usual(figure(key, entry_ias=gate.lowest.value + 0.5), C).made
    short = fly_usual(figure(key, entry_ias=gate.lowest.value - 3), C).shortfall
    assert short is not None
    assert 0 < short.speed < 15
    assert "too slow" in short.words


def test_just_below_the_highest_speed_vne_is_kept_with_its_margin():
    gate = entry_gate(figure("loop", pull_g=3.0), C)
    limit = C.card.speeds.never_exceed_ias.value - C.standards.speed_margin.value
    assert fly_usual(figure("loop", pull_g=3.0, entry_ias=gate.highest.value), C).fastest_ias <= limit + 0.3
    assert gate.lowest.value < gate.best.value < gate.highest.value


@pytest.mark.parametrize("made", FIGURES, ids=lambda f: f.key)
def test_every_figure_has_a_gate_in_order_and_its_best_can_be_flown(made):
    gate = entry_gate(figure(made.key, start_ft=6000), H)
    assert gate.lowest is not None, gate.would_help
    assert gate.lowest.value <= gate.best.value + 1e-6 <= gate.highest.value + 1e-5
    assert fly_usual(figure(made.key, start_ft=6000, entry_ias=gate.best.value), H).made


def test_more_weight_asks_for_more_speed():
    from tests.flights import plan

    heavy = conditions(plan(load={"front_lb": 210, "rear_lb": 200, "fuel_usgal": {"Centre": 24}}))
    assert entry_gate(figure("loop"), heavy).lowest.value > entry_gate(figure("loop"), C).lowest.value + 1


def test_a_figure_that_no_speed_makes_says_what_would_make_it():
    gate = entry_gate(figure("loop", pull_g=2.0), C)
    assert gate.lowest is None
    assert gate.would_help.startswith("A pull of ")


def test_at_the_stall_the_aircraft_sets_the_speed():
    gate = entry_gate(figure("spin"), C)
    assert gate.lowest.value == gate.best.value == gate.highest.value == pytest.approx(1.08 * C.stall.value)


def test_the_map_agrees_with_the_gate_and_has_every_verdict():
    low_block = conditions(place=Place(name="Low", elevation_ft=0, block_top_ft=5650))
    drawn = entry_map(figure("loop", start_ft=5000), low_block)
    assert drawn.verdict.shape == (60, 40)
    assert {FINE, TOO_SLOW, TOO_HARD, TOO_FAST, OVER_BLOCK} == set(np.unique(drawn.verdict))
    gate = entry_gate(figure("loop", start_ft=5000), low_block)
    column = int(np.argmin(abs(drawn.pulls - 3.5)))
    made = drawn.speeds[(drawn.verdict[:, column] == FINE) | (drawn.verdict[:, column] == OVER_BLOCK)]
    assert made.min() == pytest.approx(gate.lowest.value, abs=5)
    assert np.isnan(drawn.rise_ft[drawn.verdict == TOO_HARD]).all()
    assert (drawn.rise_ft[drawn.verdict == OVER_BLOCK] > 640).all()


@CARDS
@pytest.mark.parametrize("key", [f.key for f in FIGURES if f.closes and "pull_g" in f.parameters])
def test_the_map_loses_where_the_plan_is_what_the_plan_loses(key, card):
    """What a figure closes with is found at a few of the map's speeds and pulls, and is near enough
    between."""
    c, planned = conditions(card=card), figure(key, start_ft=5400)
    drawn = entry_map(planned, c, 36, 22)
    usual = fly_usual(planned, c)
    at = np.abs(drawn.speeds - entry_speed(planned, c).value).argmin()
    by = np.abs(drawn.pulls - planned.parameter("pull_g")).argmin()
    assert drawn.lost_ft[at, by] == pytest.approx(usual.deepest_ft, abs=25, rel=0.1)


def test_a_figure_without_a_pull_has_no_map():
    with pytest.raises(ValueError, match="no pull"):
        entry_map(figure("slow_flight"), C)


ROLLS = [f.key for f in FIGURES if f.keeps_ft is not None]


@CARDS
@pytest.mark.parametrize("key", ROLLS)
def test_a_roll_keeps_its_height_within_200_ft_at_every_speed_of_its_gate(key, card):
    c = conditions(card=card)
    gate = entry_gate(figure(key, start_ft=6000), c)
    for speed in np.linspace(gate.lowest.value + 0.2, gate.highest.value, 7):
        flown = fly_usual(figure(key, start_ft=6000, entry_ias=speed), c)
        assert flown.made, speed
        assert abs(flown.lost_ft) <= 205, speed
    slower = fly_usual(figure(key, start_ft=6000, entry_ias=gate.lowest.value - 3), c)
    assert slower.lost_ft > 195 or not slower.made


@CARDS
@pytest.mark.parametrize("key", every_third([f.key for f in FIGURES]))
def test_the_speeds_that_a_gate_shows_are_speeds_that_the_figure_is_flown_at(key, card):
    """The promise of every gate: as read, rounded into it, the usual student makes it."""
    c = conditions(card=card)
    gate = entry_gate(figure(key, start_ft=6000), c)
    if gate.lowest is None or gate.highest is None:
        assert gate.would_help
        return
    for shown in {gate.lowest.number, gate.best.number, gate.highest.number}:
        flown = fly_usual(figure(key, start_ft=6000, entry_ias=float(shown)), c)
        assert flown.made, (shown, flown.shortfall)


@CARDS
@pytest.mark.parametrize("key", every_third([f.key for f in FIGURES]))
def test_what_a_gate_shows_stands_in_order(key, card):
    """As read: rounding never puts the best beyond the lowest or the highest."""
    gate = entry_gate(figure(key, start_ft=6000), conditions(card=card))
    if gate.lowest is not None and gate.highest is not None:
        assert float(gate.lowest.number) <= float(gate.best.number) <= float(gate.highest.number)


def test_a_pilot_who_is_short_of_the_angle_that_was_found_pays_for_it():
    flat, usual = (fly_usual(figure("slow_roll", 6000), C, "student", angle_error_deg=e) for e in (-6.0, 0.0))
    assert flat.deepest_ft > usual.deepest_ft + 100


def test_the_nose_goes_less_high_the_faster_and_what_the_plan_says_is_flown():
    angles = [closing(figure("slow_roll", 6000, entry_ias=v), C, 6000 * FT) for v in (100, 110, 120)]
    assert angles[0] > angles[1] + 1 > angles[2] + 2
    said = compute_plan(plan(figure("slow_roll", 6000, line_deg=20.0)), C).figures[0]
    found = compute_plan(plan(figure("slow_roll", 6000)), C).figures[0]
    assert said.highest_point.value > found.highest_point.value + 30
    assert said.closes_with is None and "Nose up to 20 degrees." in said.steps
    assert (
        found.closes_with.unit == "deg" and f"Nose up to {found.closes_with.number} degrees." in found.steps
    )


def test_a_reverse_half_cuban_is_rolled_with_its_margin_above_the_stall():
    c = conditions()
    lowest = entry_gate(figure("reverse_half_cuban"), c).lowest.value
    assert lowest > 1.9 * c.stall.value
    assert fly_usual(figure("reverse_half_cuban", entry_ias=lowest + 0.1), c).shortfall is None
    assert fly_usual(figure("reverse_half_cuban", entry_ias=lowest - 5), c).shortfall is not None


def test_what_would_help_keeps_the_limit_with_flap():
    """A figure with flap down is never advised beyond the flap's 2 g."""
    c = conditions()
    for pull in (1.5, 1.8):
        gate = entry_gate(figure("nose_low", flap=1.0, pull_g=pull, path_deg=-60), c)
        if gate.would_help.startswith("A pull of "):
            assert float(gate.would_help.split()[3]) <= 2.0


@CARDS
@pytest.mark.parametrize("key", ["loop", "half_cuban", "wing_over"])
def test_a_loop_closes_where_it_began_at_its_gate_speeds(key, card):
    c = conditions(card=card)
    gate = entry_gate(figure(key, start_ft=6000), c)
    for speed in (gate.lowest.value + 1, gate.best.value):
        assert abs(fly_usual(figure(key, start_ft=6000, entry_ias=speed), c).lost_ft) < 15


@CARDS
@pytest.mark.parametrize("key", [f.key for f in FIGURES if f.closes is not None])
def test_what_means_to_come_out_where_it_began_does_at_its_best_speed(key, card):
    """But for the energy that a further loop costs: it closes height, and speed is not given back."""
    loops = {"cuban_eight": 2, "cloverleaf": 4}.get(key, 0)
    lost = fly_usual(figure(key, start_ft=6000), conditions(card=card)).lost_ft
    assert -70 < lost < max(70, 270 * loops)


@CARDS
def test_bank_reversals_hold_their_height_but_for_what_is_let_go(card):
    flown = fly_usual(figure("bank_reversals"), conditions(card=card))
    assert flown.lost_ft == pytest.approx(40.0, abs=5)


@CARDS
@pytest.mark.parametrize("key", ROLLS)
def test_the_brief_of_a_roll_says_the_angle_that_is_flown(key, card):
    """In the steps and in what is spoken: found where the plan leaves it open, else the plan's."""
    c = conditions(card=card)
    answer = compute_plan(plan(figure(key, 6000)), c).figures[0]
    said = f"{answer.closes_with.number} degrees"
    assert any(said in step for step in answer.steps)
    assert said in answer.spoken
    typed = compute_plan(plan(figure(key, 6000, line_deg=17.0)), c).figures[0]
    assert typed.closes_with is None
    assert any("17 degrees" in step for step in typed.steps)
