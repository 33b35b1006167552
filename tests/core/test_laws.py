"""Laws that hold for any figure the pilot may fly."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from keelturn.flying.costs import fly_usual
from keelturn.flying.pilots import FIXED, usual_numbers
from keelturn.motion import engine
from keelturn.motion.flight import Start, fly_one
from keelturn.motion.legs import Leg, compile_legs
from keelturn.units import DEG, G0
from tests.flights import conditions, figure

CONDITIONS = conditions()
few = settings(max_examples=30, deadline=None)


def idle_pull(path_deg: float, speed: float, g: float):
    numbers = {**FIXED, **usual_numbers("reference"), "throttle_start": 0.0, "pull_g": g}
    legs, _ = compile_legs(
        [Leg("pull", g="pull_g", until="path_up_to_deg", amount=0.0)], numbers, CONDITIONS.frame.stall, 1
    )
    return fly_one(Start(1500.0, speed, path=path_deg * DEG, g=1.0), legs, CONDITIONS.body)[:2]


@few
@given(st.floats(-80, -10), st.floats(40, 75), st.floats(1.6, 4.0))
def test_idle_power_never_gains_energy(path, speed, g):
    _, rows = idle_pull(path, speed, g)
    energy = G0 * rows[:, engine.R_HEIGHT] + rows[:, engine.R_TAS] ** 2 / 2
    assert np.all(np.diff(energy) <= 1e-6)


@few
@given(st.floats(-80, -10), st.floats(45, 75), st.floats(1.6, 3.6))
def test_more_g_never_loses_more_height_wings_level(path, speed, g):
    soft, hard = idle_pull(path, speed, g)[0], idle_pull(path, speed, g + 0.3)[0]
    assert -hard[0, engine.S_HEIGHT] <= -soft[0, engine.S_HEIGHT] + 0.01


@few
@given(
    st.floats(0, 120),
    st.floats(-60, -10),
    st.floats(85, 118),
    st.floats(0, 1.5),
    st.sampled_from([None, "push_roll_power_stabilise"]),
)
def test_a_later_reaction_never_loses_less(bank, path, ias, later, school):
    planned = figure("nose_low", entry_ias=ias, school=school, bank_deg=bank, path_deg=path)
    assert (
        fly_usual(planned, CONDITIONS, "student", delay_s=later).lost_ft
        >= fly_usual(planned, CONDITIONS).lost_ft - 0.1
    )


@few
@given(
    st.sampled_from(["steep_turn", "stall_power_off", "incipient_spin", "spin", "nose_low"]),
    st.floats(3000, 9000),
)
def test_the_account_adds_up_to_the_profile(key, start):
    flown = fly_usual(figure(key, start_ft=start), CONDITIONS)
    assert flown.made
    assert sum(lost for _, lost, _ in flown.parts) == pytest.approx(flown.lost_ft, abs=1e-9)
    assert -flown.profile[-1][1] == pytest.approx(flown.lost_ft, abs=1.1)
    assert flown.profile[-1][0] == pytest.approx(flown.seconds, abs=0.01)


@few
@given(st.sampled_from(["steep_turn", "nose_low"]), st.floats(30, 60))
def test_left_and_right_cost_the_same_when_the_aircraft_rolls_alike(key, bank):
    even = CONDITIONS.card.model_copy(
        update={
            "roll": CONDITIONS.card.roll.model_copy(update={"left_deg_s": CONDITIONS.card.roll.right_deg_s})
        }
    )
    c = conditions(card=even)
    left, right = (fly_usual(figure(key, side=side, bank_deg=bank), c).lost_ft for side in ("left", "right"))
    assert left == pytest.approx(right, abs=1e-6)


def test_heading_does_not_change_heights():
    numbers = {**FIXED, **usual_numbers("student"), "throttle_start": 0.0, "pull_g": 2.5}
    legs, _ = compile_legs(
        [Leg("roll", g=1.0, roll_to_deg=0.0), Leg("pull", g="pull_g", until="path_up_to_deg", amount=0.0)],
        numbers,
        CONDITIONS.frame.stall,
        1,
    )
    lost = [
        fly_one(Start(1500.0, 55.0, path=-0.5, bank=1.2, heading=h), legs, CONDITIONS.body)[0][
            :, engine.S_HEIGHT
        ].sum()
        for h in (0, 1, 3)
    ]
    assert lost == pytest.approx([lost[0]] * 3, abs=1e-6)


def test_a_lift_limited_pull_says_so_and_does_not_exceed_the_wing():
    summary, rows = idle_pull(-70, 30, 4.0)
    assert summary[0, engine.S_LIMITED] == 1.0
    most = FIXED["lift_share"] * (rows[:, engine.R_EAS] / CONDITIONS.frame.stall) ** 2
    assert np.all(rows[:, engine.R_G] <= most + 1e-9)


@few
@given(st.floats(0.7, 1.3), st.floats(-60, -20), st.floats(1.8, 3.0))
def test_a_pull_out_scales_with_the_square_of_the_true_speed_as_the_formula_says(scale, path, g):
    """Height of a pull at constant g without drag goes with V^2: textbook aircraft, any scale."""
    from keelturn.motion.flight import textbook_body

    numbers = {
        "onset_g_s": 1e9,
        "lift_share": 1.0,
        "throttle_start": 0.0,
        "throttle_s": 1.0,
        "roll_share": 1.0,
        "roll_acc_deg_s2": 300.0,
    }
    legs, _ = compile_legs([Leg("pull", g=g, until="path_up_to_deg")], numbers, 1.0, 1)
    one, other = (
        fly_one(Start(3000.0, 60.0 * s, path=path * DEG, g=g), legs, textbook_body(), 0.05)[0][
            0, engine.S_HEIGHT
        ]
        for s in (1.0, scale)
    )
    assert other / one == pytest.approx(scale**2, rel=1e-6)


def test_stall_and_manoeuvring_speeds_go_with_the_root_of_weight():
    from tests.flights import plan

    light, heavy = (
        conditions(plan(load={"front_lb": w, "rear_lb": w, "fuel_usgal": {"Centre": 10}})) for w in (120, 240)
    )
    ratio = (heavy.weight_lb / light.weight_lb) ** 0.5
    assert heavy.stall.value / light.stall.value == pytest.approx(ratio)
    assert heavy.frame.best_glide / light.frame.best_glide == pytest.approx(ratio)


def test_the_same_eas_in_thinner_air_costs_more():
    """TAS grows as the root of density falls, and the height of a pull-out with its square."""
    low, high = (fly_usual(figure("nose_low", start_ft=h), CONDITIONS).lost_ft for h in (2000, 10000))
    sigma = CONDITIONS.air.density(10000 * 0.3048) / CONDITIONS.air.density(2000 * 0.3048)
    assert low < high < low / sigma
