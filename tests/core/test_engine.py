"""The engine leg by leg: events are met exactly, controls move at their rates, and what cannot be flown says
so."""

import math
from dataclasses import replace

import numpy as np
import pytest

from keelturn.flying.pilots import FIXED, usual_numbers
from keelturn.motion import engine
from keelturn.motion import equations as eq
from keelturn.motion.flight import Start, begin, fly_fan, fly_one, textbook_body
from keelturn.motion.legs import Leg, compile_legs
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


@pytest.mark.parametrize(
    ("until", "amount", "column", "value"),
    [
        ("path_up_to_deg", -5.0, engine.R_PATH, -5.0 * DEG),
        ("stall_ratio_up_to", 2.2, engine.R_EAS, 2.2 * C.frame.stall),
    ],
)
def test_a_leg_ends_where_it_says(until, amount, column, value):
    _, rows, _ = fly(Leg("pull", g=1.3, until=until, amount=amount), start=Start(1500.0, 50.0, path=-0.6))
    assert rows[-1, column] == pytest.approx(value, abs=1e-6)


def test_a_push_over_ends_on_the_way_down():
    _, rows, _ = fly(
        Leg("push", g=0.2, until="path_down_to_deg", amount=-10.0), start=Start(1500.0, 60.0, path=0.2)
    )
    assert rows[-1, engine.R_PATH] == pytest.approx(-10 * DEG, abs=1e-6)


@pytest.mark.parametrize(
    ("bank", "target"), [(70.0, 0.0), (-70.0, 0.0), (0.0, 60.0), (0.0, -45.0), (130.0, 0.0), (10.0, 0.0)]
)
def test_a_roll_stops_at_its_bank_having_gone_the_short_way(bank, target):
    _, rows, _ = fly(Leg("roll", g=0.5, roll_to_deg=target), start=Start(1500.0, 55.0, bank=bank * DEG))
    assert rows[-1, engine.R_BANK] == pytest.approx(target * DEG, abs=1.5 * DEG)
    assert np.all(np.abs(rows[:, engine.R_BANK]) <= max(abs(bank), abs(target)) * DEG + 0.03)


def test_the_next_leg_after_a_roll_begins_at_the_bank_exactly():
    _, rows, _ = fly(
        Leg("roll", g=0.5, roll_to_deg=0.0),
        Leg("hold", g=1.0, until="seconds", amount=0.5),
        start=Start(1500.0, 55.0, bank=1.0),
    )
    assert rows[rows[:, engine.R_LEG] == 2][0, engine.R_BANK] == pytest.approx(0.0, abs=1e-9)


def test_faster_aircraft_roll_faster_up_to_the_cards_speed():
    slow, fast = (
        fly(Leg("roll", g=0.5, roll_to_deg=0.0), start=Start(1500.0, v, bank=1.5))[0][
            :, engine.S_SECONDS
        ].sum()
        for v in (35.0, 55.0)
    )
    assert fast < slow


def test_g_comes_on_at_its_onset():
    _, rows, _ = fly(
        Leg("pull", g=2.5, until="seconds", amount=2.0), start=Start(1500.0, 70.0), onset_g_s=1.5, lag_s=0.0
    )
    early = rows[rows[:, engine.R_TIME] < 0.9]
    assert early[:, engine.R_G] == pytest.approx(1.0 + 1.5 * early[:, engine.R_TIME])
    assert rows[-1, engine.R_G] == pytest.approx(2.5)


def test_the_aircraft_answers_a_change_of_g_late_and_once():
    """0.3 s late: nothing until then; a push of 0.5 s is answered 0.3 s later and lasts as long; a leg that
    asks the same goes on with the same answer."""
    _, rows, _ = fly(
        Leg("pull", g=2.0, until="seconds", amount=0.6),
        Leg("same", g=2.0, until="seconds", amount=0.4),
        Leg("less", g=1.0, until="seconds", amount=1.0),
        start=Start(1500.0, 70.0),
        onset_g_s=2.0,
        lag_s=0.3,
    )

    def g(at):
        return float(np.interp(at, rows[:, engine.R_TIME], rows[:, engine.R_G]))

    assert [round(g(t), 2) for t in (0.3, 0.5, 0.8, 1.0, 1.29, 1.5, 1.8)] == [
        1.0,
        1.4,
        2.0,
        2.0,
        2.0,
        1.6,
        1.0,
    ]


def test_a_change_of_mind_within_the_lag_is_still_answered():
    _, rows, _ = fly(
        Leg("push", g=0.0, until="seconds", amount=0.2),
        Leg("pull", g=1.0, until="seconds", amount=1.0),
        start=Start(1500.0, 70.0),
        onset_g_s=2.0,
        lag_s=0.3,
    )
    lowest = rows[:, engine.R_G].min()
    assert lowest == pytest.approx(1.0 - 2.0 * 0.3, abs=0.02)


@pytest.mark.parametrize("bank", [50.0, -50.0, 170.0])
def test_the_pull_begins_at_the_pilots_bank_and_the_roll_goes_on_to_level(bank):
    _, rows, _ = fly(
        Leg("roll", g=1.0, roll_within_deg=12.0),
        Leg("pull", g=2.0, roll_to_deg=0.0),
        start=Start(1500.0, 70.0, bank=np.radians(bank)),
        lag_s=0.0,
    )
    pulled = rows[rows[:, engine.R_G] > 1.01]
    assert abs(np.degrees(pulled[0, engine.R_BANK])) == pytest.approx(12.0, abs=4.0)
    assert np.degrees(rows[-1, engine.R_BANK]) == pytest.approx(0.0, abs=2.0)
    level = [Leg("roll", g=1.0, roll_within_deg=12.0), Leg("pull", g=2.0, until="seconds", amount=0.5)]
    assert np.abs(fly(*level, start=Start(1500.0, 70.0))[1][:, engine.R_BANK]).max() < 1e-6


def test_the_throttle_takes_its_time():
    _, rows, _ = fly(Leg("go", g=1.0, throttle=1.0, until="seconds", amount=1.5), throttle_s=1.0)
    half = rows[np.argmin(np.abs(rows[:, engine.R_TIME] - 0.5))]
    assert half[engine.R_POWER] == pytest.approx(0.5, abs=0.03)
    assert rows[-1, engine.R_POWER] == 1.0


def test_a_figure_that_runs_out_of_speed_ends_with_that_verdict():
    summary, rows, _ = fly(
        Leg("up", g=0.0, until="seconds", amount=30.0),
        Leg("never", g=1.0, until="seconds", amount=1.0),
        start=Start(1500.0, 40.0, path=89.5 * DEG, g=0.0),
    )
    assert summary[0, engine.S_STATUS] == engine.STOPPED_FLYING
    assert summary[1, engine.S_STATUS] == engine.STOPPED_FLYING
    assert np.all(np.isfinite(rows))


def test_a_leg_that_never_ends_is_timed_out():
    assert (
        fly(Leg("wait", g=1.0, until="path_up_to_deg", amount=80.0))[0][0, engine.S_STATUS]
        == engine.TIMED_OUT
    )


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
    state = begin(
        Start(
            1000.0, 50.0, path=np.array([-1.2, 0.3]), bank=np.array([2.0, -0.5]), heading=np.array([1.0, 4.0])
        ),
        2,
    ).states
    u, lift = state[:, eq.UX : eq.LX], state[:, eq.LX : eq.EAST]
    assert np.linalg.norm(u, axis=1) == pytest.approx([1, 1])
    assert np.linalg.norm(lift, axis=1) == pytest.approx([1, 1])
    assert (u * lift).sum(axis=1) == pytest.approx([0, 0], abs=1e-12)
    for row, bank in zip(state, (2.0, -0.5), strict=True):
        assert eq.bank_of(row) == pytest.approx(bank)


def test_the_textbook_aircraft_has_no_limit():
    compiled, _ = compile_legs(
        [Leg("pull", g=9.0, until="path_up_to_deg", amount=0.0)], {**NUMBERS, "onset_g_s": 1e9}, 1.0, 1
    )
    summary, _, _ = fly_one(Start(1000.0, 30.0, path=math.radians(-60), g=9.0), compiled, textbook_body())
    assert summary[0, engine.S_G_MOST] == 9.0
    assert summary[0, engine.S_LIMITED] == 0.0


def end_of(*legs: Leg, start: Start, **numbers: float):
    compiled, _ = compile_legs(legs, {**NUMBERS, **numbers}, C.frame.stall, 1)
    return fly_one(start, compiled, C.body)


def test_a_pull_and_a_push_end_at_their_loop_angles():
    _, rows, held = end_of(
        Leg("up", g=3.0, throttle=1.0, until="pulled_to_deg", amount=180.0), start=Start(1500.0, 75.0, g=1.0)
    )
    assert rows[-1, engine.R_PATH] == pytest.approx(0.0, abs=1e-6)
    assert abs(rows[-1, engine.R_BANK]) == pytest.approx(math.pi, abs=1e-6)
    _, rows, _ = end_of(
        Leg("over", g=0.0, until="pushed_to_deg", amount=-20.0 % 360.0), start=Start(1500.0, 60.0, path=0.3)
    )
    assert rows[-1, engine.R_PATH] == pytest.approx(-20.0 * DEG, abs=1e-6)


@pytest.mark.parametrize(
    ("until", "amount", "read"),
    [
        ("eas_up_to", 55.0, lambda rows: rows[-1, engine.R_EAS] - 55.0),
        (
            "height_changed_ft",
            200.0,
            lambda rows: rows[0, engine.R_HEIGHT] - rows[-1, engine.R_HEIGHT] - 200.0 * 0.3048,
        ),
    ],
)
def test_a_dive_ends_at_its_speed_or_height(until, amount, read):
    _, rows, _ = end_of(Leg("dive", until=until, amount=amount), start=Start(1500.0, 50.0, path=-0.4))
    assert read(rows) == pytest.approx(0.0, abs=1e-5)
    # The flight path is kept: that is what a line is.
    assert rows[:, engine.R_PATH] == pytest.approx(-0.4, abs=1e-6)


@pytest.mark.parametrize("side", [180.0, -180.0])
def test_a_stall_turn_comes_down_the_way_it_went_up_and_out_the_other_way(side):
    swing = Leg("turn", kind="yaws over", swing_deg=side, until="seconds", amount=2.0)
    out = Leg("out", g=2.5, until="pulled_to_deg", amount=360.0)
    _, _, held = end_of(swing, out, start=Start(1500.0, 30.0, path=math.pi / 2))
    # Entered heading north, out heading south.
    assert held.states[0, eq.UY] == pytest.approx(-1.0, abs=1e-6)
    _, rows, _ = end_of(swing, start=Start(1500.0, 15.0, path=math.pi / 2))
    assert rows[-1, engine.R_PATH] == pytest.approx(-math.pi / 2, abs=1e-4)
    assert rows[-1, engine.R_HEIGHT] == pytest.approx(1500.0, abs=0.01)
    assert rows[:, engine.R_EAST].max() > 5 if side > 0 else rows[:, engine.R_EAST].min() < -5


def test_the_nose_falls_through_in_the_plane_of_the_wing():
    falls = Leg("falls", kind="falls through", swing_deg=-170.0, until="seconds", amount=2.5)
    _, rows, _ = end_of(falls, start=Start(1500.0, 8.0, path=80 * DEG))
    assert rows[-1, engine.R_PATH] == pytest.approx(-90.0 * DEG, abs=0.01)


def test_an_eased_pull_falls_with_the_square_of_the_speed():
    _, rows, _ = end_of(
        Leg("over", g=4.0, eased=0.6, until="pulled_to_deg", amount=150.0),
        start=Start(1500.0, 70.0, g=3.0),
        onset_g_s=50.0,
    )
    eased = rows[rows[:, engine.R_TIME] > 1.0]
    assert eased[:, engine.R_G] == pytest.approx(0.6 * (eased[:, engine.R_EAS] / C.frame.stall) ** 2)


def test_top_rudder_holds_the_nose_up_at_knife_edge_and_drag_slows():
    def after(**leg: float):
        point = Leg("point", g=1.0, lift="share of weight", until="seconds", amount=1.5, **leg)
        return end_of(point, start=Start(1500.0, 60.0, bank=math.pi / 2))[1][-1]

    assert after(top_rudder=0.6)[engine.R_PATH] > after()[engine.R_PATH] + 0.05
    assert after(drag=3.0)[engine.R_TAS] < after()[engine.R_TAS] - 1.0


def test_a_roll_that_goes_on_does_not_stop_between_its_legs():
    first, then = Leg("roll", g=0.0, roll_to_deg=60.0, roll_on=True), Leg("on", g=2.0, roll_to_deg=0.0)
    _, rows, _ = end_of(first, then, start=Start(1500.0, 60.0, bank=110 * DEG))
    at = np.flatnonzero(np.diff(rows[:, engine.R_LEG]))[0]
    assert abs(rows[at, engine.R_ROLL]) > 0.5
    assert abs(rows[at + 1, engine.R_ROLL]) > 0.5


@pytest.mark.parametrize("around", [360.0, -360.0])
def test_a_whole_roll_ends_where_it_began(around):
    _, rows, _ = end_of(Leg("roll", g=0.5, roll_through_deg=around), start=Start(1500.0, 60.0, path=0.3))
    assert rows[-1, engine.R_BANK] == pytest.approx(0.0, abs=0.05)
    first = rows[rows[:, engine.R_TIME] < 1.0]
    assert np.sign(first[-1, engine.R_BANK]) == np.sign(around)
