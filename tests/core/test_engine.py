"""The engine leg by leg: events are met exactly, controls move at their rates, and what cannot be flown says so."""

import math
from dataclasses import replace

import numpy as np
import pytest

from keelturn.motion import engine
from keelturn.motion import equations as eq
from keelturn.motion.flight import Start, begin, fly_fan, fly_one, textbook_body
from keelturn.motion.legs import Leg, compile_legs
from keelturn.plan.pilots import FIXED, usual_numbers
from keelturn.units import DEG
from tests.flights import conditions

C = conditions()
NUMBERS = {**FIXED, **usual_numbers("student"), "throttle_start": 0.0}


def fly(*legs: Leg, start: Start | None = None, step_s: float = 0.05, **numbers: float):
    compiled, parts = compile_legs(legs, {**NUMBERS, **numbers}, C.frame.stall, 1)
    summary, rows, _ = fly_one(start or Start(1500.0, 55.0), compiled, C.body, step_s)
    return summary, rows, parts


@pytest.mark.parametrize("seconds", [0.3, 0.9, 1.0, 1.05, 2.0])
@pytest.mark.parametrize("step_s", [0.05, 0.1, 0.3])
def test_a_wait_lasts_exactly_as_long_as_it_should(seconds, step_s):
    summary, _, _ = fly(Leg("wait", g=1.0, until="seconds", amount=seconds), step_s=step_s)
    assert summary[0, engine.S_SECONDS] == pytest.approx(seconds, abs=1e-7)


@pytest.mark.parametrize(("until", "amount", "column", "value"), [
    ("path_up_to_deg", -5.0, engine.R_PATH, -5.0 * DEG), ("stall_ratio_up_to", 2.2, engine.R_EAS, 2.2 * C.frame.stall)])
def test_a_leg_ends_where_it_says(until, amount, column, value):
    _, rows, _ = fly(Leg("pull", g=1.3, until=until, amount=amount), start=Start(1500.0, 50.0, path=-0.6))
    assert rows[-1, column] == pytest.approx(value, abs=1e-6)


def test_a_push_over_ends_on_the_way_down():
    _, rows, _ = fly(Leg("push", g=0.2, until="path_down_to_deg", amount=-10.0), start=Start(1500.0, 60.0, path=0.2))
    assert rows[-1, engine.R_PATH] == pytest.approx(-10 * DEG, abs=1e-6)


@pytest.mark.parametrize(("bank", "target"), [(70.0, 0.0), (-70.0, 0.0), (0.0, 60.0), (0.0, -45.0), (130.0, 0.0), (10.0, 0.0)])
def test_a_roll_stops_at_its_bank_having_gone_the_short_way(bank, target):
    _, rows, _ = fly(Leg("roll", g=0.5, roll_to_deg=target), start=Start(1500.0, 55.0, bank=bank * DEG))
    assert rows[-1, engine.R_BANK] == pytest.approx(target * DEG, abs=1.5 * DEG)
    assert np.all(np.abs(rows[:, engine.R_BANK]) <= max(abs(bank), abs(target)) * DEG + 0.03)


def test_the_next_leg_after_a_roll_begins_at_the_bank_exactly():
    _, rows, _ = fly(Leg("roll", g=0.5, roll_to_deg=0.0), Leg("hold", g=1.0, until="seconds", amount=0.5), start=Start(1500.0, 55.0, bank=1.0))
    assert rows[rows[:, engine.R_LEG] == 2][0, engine.R_BANK] == pytest.approx(0.0, abs=1e-9)


def test_faster_aircraft_roll_faster_up_to_the_cards_speed():
    slow, fast = (fly(Leg("roll", g=0.5, roll_to_deg=0.0), start=Start(1500.0, v, bank=1.5))[0][:, engine.S_SECONDS].sum() for v in (35.0, 55.0))
    assert fast < slow


def test_g_comes_on_at_its_onset():
    _, rows, _ = fly(Leg("pull", g=2.5, until="seconds", amount=2.0), start=Start(1500.0, 70.0), onset_g_s=1.5)
    early = rows[rows[:, engine.R_TIME] < 0.9]
    assert early[:, engine.R_G] == pytest.approx(1.0 + 1.5 * early[:, engine.R_TIME])
    assert rows[-1, engine.R_G] == pytest.approx(2.5)


def test_the_throttle_takes_its_time():
    _, rows, _ = fly(Leg("go", g=1.0, throttle=1.0, until="seconds", amount=1.5), throttle_s=1.0)
    half = rows[np.argmin(np.abs(rows[:, engine.R_TIME] - 0.5))]
    assert half[engine.R_POWER] == pytest.approx(0.5, abs=0.03)
    assert rows[-1, engine.R_POWER] == 1.0


def test_a_figure_that_runs_out_of_speed_ends_with_that_verdict():
    summary, rows, _ = fly(Leg("up", g=0.0, until="seconds", amount=30.0), Leg("never", g=1.0, until="seconds", amount=1.0),
                           start=Start(1500.0, 40.0, path=89.5 * DEG, g=0.0))
    assert summary[0, engine.S_STATUS] == engine.STOPPED_FLYING
    assert summary[1, engine.S_STATUS] == engine.STOPPED_FLYING
    assert np.all(np.isfinite(rows))


def test_a_leg_that_never_ends_is_timed_out():
    assert fly(Leg("wait", g=1.0, until="path_up_to_deg", amount=80.0))[0][0, engine.S_STATUS] == engine.TIMED_OUT


def test_many_pilots_fly_what_one_would():
    legs = (Leg("pull", g="pull_g", until="path_up_to_deg", amount=0.0),)
    pulls = np.array([2.0, 2.5, 3.0])
    compiled, _ = compile_legs(legs, {**NUMBERS, "pull_g": pulls}, C.frame.stall, 3)
    start = Start(np.full(3, 1500.0), 55.0, path=-0.8)
    fan, _ = fly_fan(start, compiled, C.body, 0.05)
    for i in range(3):
        one, _, _ = fly_one(Start(1500.0, 55.0, path=-0.8), compiled[i : i + 1], C.body, 0.05)
        assert fan[i] == pytest.approx(one, abs=1e-12)


def test_parts_of_the_account_belong_to_rows():
    wait = Leg("a", g=1.0, until="seconds", amount=0.2)
    _, _, parts = fly(wait, Leg("b", g=1.0, roll_to_deg=30.0), replace(wait, part="c"))
    assert parts == ("a", "b", "b", "c")


def test_a_number_that_nobody_gave_is_named():
    with pytest.raises(KeyError, match="moon_g"):
        compile_legs([Leg("pull", g="moon_g")], NUMBERS, 1.0, 1)


def test_states_are_unit_vectors_with_lift_across_flight():
    state = begin(Start(1000.0, 50.0, path=np.array([-1.2, 0.3]), bank=np.array([2.0, -0.5]), heading=np.array([1.0, 4.0])), 2).states
    u, lift = state[:, eq.UX : eq.LX], state[:, eq.LX : eq.EAST]
    assert np.linalg.norm(u, axis=1) == pytest.approx([1, 1])
    assert np.linalg.norm(lift, axis=1) == pytest.approx([1, 1])
    assert (u * lift).sum(axis=1) == pytest.approx([0, 0], abs=1e-12)
    for row, bank in zip(state, (2.0, -0.5), strict=True):
        assert eq.bank_of(row) == pytest.approx(bank)


def test_the_textbook_aircraft_has_no_limit():
    compiled, _ = compile_legs([Leg("pull", g=9.0, until="path_up_to_deg", amount=0.0)], {**NUMBERS, "onset_g_s": 1e9}, 1.0, 1)
    summary, _, _ = fly_one(Start(1000.0, 30.0, path=math.radians(-60), g=9.0), compiled, textbook_body())
    assert summary[0, engine.S_G_MOST] == 9.0
    assert summary[0, engine.S_LIMITED] == 0.0
