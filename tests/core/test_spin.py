"""The spin as motion: what its chapter in the brief says of it, as properties over cards.

Trade values as ranges are in tests/outside/test_trade_values.py."""

import numpy as np
import pytest

from keelturn.air import DayAir
from keelturn.aircraft.airframe import airframe
from keelturn.flying.costs import pilot_numbers
from keelturn.flying.course import fly
from keelturn.flying.spin import calibrate
from keelturn.motion import engine
from keelturn.motion.flight import Start, begin, body_of
from keelturn.spinning import engine as spins
from keelturn.spinning.calibration import reference_inputs
from keelturn.spinning.flight import spin
from keelturn.units import DEG, FT, G0, KT
from tests.flights import HEAVY, TRAINER, conditions, figure
from tests.spins import CARDS, START_FT, fallen, spun, turns_to_stop


@CARDS
def test_it_never_falls_faster_than_a_stone(card):
    rows = spun(card, 3.0).rows
    t, down = rows[:, engine.R_TIME], rows[0, engine.R_HEIGHT] - rows[:, engine.R_HEIGHT]
    assert (down <= G0 * t**2 / 2 + 1e-6).all()
    sinks = -rows[:, engine.R_TAS] * np.sin(rows[:, engine.R_PATH])
    assert (sinks <= rows[:, engine.R_TAS] + 1e-9).all()


@CARDS
def test_the_first_half_second_falls_less_than_a_foot_and_the_first_turn_far_less_than_the_later_ones(card):
    found = spun(card)
    rows = found.rows
    early = np.interp(0.5, rows[:, engine.R_TIME], rows[:, engine.R_HEIGHT])
    assert START_FT - early / FT < 1.0
    assert 40 < fallen(found, spins.M_FIRST) < 280


@CARDS
def test_the_developed_spin_comes_down_at_a_little_more_than_the_stall_speed(card):
    """Near 1.2 to 1.5 Vs (the chapter); ours from 1.05, nearly flat, where the card's feet and seconds say
    so."""
    rows = spun(card, 6.0).rows
    fast = np.interp(11.0, rows[:, engine.R_TIME], rows[:, engine.R_EAS])
    assert 1.05 <= fast / airframe(card, card.speeds.reference_lb.value).stall <= 1.6
    turning = np.interp(11.0, rows[:, engine.R_TIME], rows[:, engine.R_ROLL])
    assert 360 * DEG / turning == pytest.approx(card.spin.turn_s.value, rel=0.15)


@CARDS
def test_inertia_lifts_the_nose(card):
    """Stick fully back holds 22 degrees without rotation; the spin is deeper in the stall."""
    rows = spun(card, 3.0).rows
    assert np.interp(6.0, rows[:, engine.R_TIME], rows[:, spins.X_ALPHA]) > 30 * DEG


@CARDS
def test_power_and_out_spin_aileron_flatten_it_and_it_takes_longer_to_stop(card):
    plain = spun(card, 3.0)
    flat = spun(card, 3.0, LATER_AT=np.pi, STICK_LATER=1.0, AILERON_LATER=-1.0, POWER_LATER=1.0)
    assert flat.told[0, spins.T_ALPHA] > plain.told[0, spins.T_ALPHA] + 5 * DEG
    assert turns_to_stop(flat) > turns_to_stop(plain)
    assert turns_to_stop(spun(card, 3.0, POWER_IN=0.7, CLOSE_S=2.0)) > turns_to_stop(plain)


@CARDS
def test_aileron_steepens_it_with_the_mass_in_the_fuselage_and_flattens_it_with_the_mass_in_the_wings(card):
    wings = card.model_copy(update={"spin": card.spin.model_copy(update={"mass": "along the wings"})})
    against = {"LATER_AT": np.pi, "STICK_LATER": 1.0, "AILERON_LATER": -1.0}

    def deepest(of, **inputs):
        return float(spun(of, 3.0, **inputs).told[0, spins.T_ALPHA])

    assert deepest(card, **against) > deepest(card) + 0.5 * DEG
    assert deepest(wings, **against) <= deepest(wings) + 1 * DEG


@CARDS
def test_stick_before_rudder_winds_it_up(card):
    rate = spun(card).told[0, spins.T_RATE]
    assert spun(card, STICK_S=0.0, RUDDER_S=1.5).told[0, spins.T_RATE] > 1.02 * rate


@CARDS
def test_stick_kept_back_with_rudder_against_turns_the_other_way_or_goes_on(card):
    kept = spun(card, 1.0, STICK_TO=1.0, STICK_S=0.0)
    assert kept.told[0, spins.T_OUTCOME] != spins.SPUN or turns_to_stop(kept) > 1.2 * turns_to_stop(
        spun(card, 1.0)
    )


def test_rudder_held_with_the_stick_back_spins_the_other_way():
    """An agile rudder: stopped, still stalled, and the rudder drives it on."""
    found = spun(TRAINER, 1.0, STICK_TO=1.0, STICK_S=0.0, CENTRE_S=1.5)
    assert found.told[0, spins.T_OUTCOME] == spins.OTHER_WAY
    rates = found.rows[:, engine.R_ROLL]
    assert rates.max() > 60 * DEG and rates.min() < -40 * DEG
    assert fallen(found) > fallen(spun(TRAINER, 1.0)) + 60


@CARDS
def test_stick_not_fully_back_is_a_spiral_with_the_speed_rising(card):
    found = spun(card, 1.0, STICK_IN=0.35)
    assert found.told[0, spins.T_OUTCOME] == spins.SPIRALLED
    stall = airframe(card, card.speeds.reference_lb.value).stall
    assert found.told[0, spins.T_EAS] > stall + 18 * KT
    assert found.told[0, spins.T_ALPHA] < 15.1 * DEG


@CARDS
def test_every_mark_of_the_account_lies_on_the_path(card):
    found = spun(card, 3.0, DELAY_S=0.8, STICK_S=0.6)
    times, heights = found.rows[:, engine.R_TIME], found.rows[:, engine.R_HEIGHT]
    marks = [found.seconds(mark)[0] for mark in range(spins.MARKS)]
    assert marks == sorted(marks)
    assert marks[spins.M_INPUTS] - marks[spins.M_CALLED] == pytest.approx(1.4, abs=1e-6)
    for mark, at in enumerate(marks):
        assert found.height(mark)[0] == pytest.approx(np.interp(at, times, heights), abs=0.2)


@CARDS
def test_turns_to_stop_are_counted_from_the_first_input(card):
    prompt, late = (turns_to_stop(spun(card, 4.0, DELAY_S=delay)) for delay in (0.0, 1.5))
    assert late == pytest.approx(prompt, abs=0.06)


def test_the_bank_comes_level_from_the_stop_to_the_pull():
    found = spun(TRAINER, 1.0)
    stopped, ended = found.seconds(spins.M_STOPPED)[0], found.seconds(spins.M_ENDED)[0]
    times, banks = found.rows[:, engine.R_TIME], np.abs(found.rows[:, engine.R_BANK])
    assert banks[-1] == pytest.approx(0.0, abs=1e-6)
    assert banks[times < stopped].max() > 60 * DEG
    assert ended > stopped


def test_an_inverted_spin_is_flown_at_negative_g_and_ends_upright():
    course = fly(
        figure("spin_inverted", start_ft=8000),
        conditions(card=HEAVY),
        pilot_numbers("student"),
        8000 * FT,
        trace=True,
    )
    rows = next(rows for rows in course.rows if rows.shape[1] > engine.ROW_COLUMNS)
    middle = len(rows) // 2
    assert rows[middle, engine.R_G] < -0.5
    assert rows[middle, spins.X_STICK] < -0.9
    assert course.trace[-1, engine.R_G] > 1.0


def test_accuracy_does_not_hang_on_the_step():
    """Steps of 0.2 s in the spread and 0.1 s otherwise against 0.01 s: a foot."""
    card, air = TRAINER, DayAir()
    character, frame = calibrate(card), airframe(card, card.speeds.reference_lb.value)
    start = begin(Start(np.full(3, 1500.0), frame.stall * 1.08), 3)
    inputs = reference_inputs(np.array([0.5, 1.0, 3.0]))
    coarse, fine, exact = (
        spin(character.right["upright"], body_of(frame, air), inputs, start, step_s=step).height(
            spins.M_ENDED
        )
        for step in (0.2, 0.1, 0.01)
    )
    assert np.abs(fine - exact).max() < 0.4 * FT
    assert np.abs(coarse - exact).max() < 1.5 * FT


@CARDS
def test_the_stick_comes_after_the_rudder_by_the_gap_and_both_after_the_delay(card):
    found = spun(card, 2.0, DELAY_S=0.5, STICK_S=0.6)
    called = found.seconds(spins.M_CALLED)[0]
    for column, due in ((spins.X_RUDDER, called + 0.5), (spins.X_STICK, called + 1.1)):
        assert control_at(found, column, due - 0.05) > 0.95
        assert control_at(found, column, due + 0.25) < 0.0


@CARDS
def test_inputs_that_are_given_up_are_taken_out_and_put_in_again(card):
    """Half a second after the last of them: the rudder goes back in, and comes out again a second later."""
    found = spun(card, 3.0, GIVES_UP_S=1.0, STICK_S=0.0, RUDDER_TO=-0.3)
    first = found.seconds(spins.M_CALLED)[0]
    assert control_at(found, spins.X_RUDDER, first + 0.45) == pytest.approx(-0.3, abs=0.01)
    assert control_at(found, spins.X_RUDDER, first + 1.2) > 0.9
    assert control_at(found, spins.X_RUDDER, first + 2.1) == pytest.approx(-0.3, abs=0.01)


@CARDS
def test_what_a_kind_changes_it_changes_from_its_turn_on_and_power_is_closed_late(card):
    found = spun(card, 3.0, LATER_AT=np.pi, POWER_LATER=1.0, STICK_LATER=0.9, CLOSE_S=0.7)
    turned = np.cumsum(np.abs(found.rows[:-1, engine.R_ROLL]) * np.diff(found.rows[:, engine.R_TIME]))
    half = found.rows[np.searchsorted(turned, np.pi), engine.R_TIME]
    called = found.seconds(spins.M_CALLED)[0]
    assert control_at(found, engine.R_POWER, half - 0.3) == 0.0
    assert control_at(found, engine.R_POWER, called + 0.65) == pytest.approx(1.0)
    assert control_at(found, engine.R_POWER, called + 1.3) == pytest.approx(0.0, abs=0.01)


def test_the_second_recovery_is_the_first_one_the_other_way_round():
    found = spun(TRAINER, 1.0, STICK_TO=1.0, STICK_S=0.0, CENTRE_S=1.5)
    rudder, rolls = found.rows[:, spins.X_RUDDER], found.rows[:, engine.R_ROLL]
    assert rudder[0] >= 0.0 and rudder.min() == pytest.approx(-1.0)
    turned_over = np.argmax(rolls < -40 * DEG)
    assert rudder[turned_over:].max() == pytest.approx(1.0)
    assert found.rows[:, spins.X_STICK].min() < -0.5


def control_at(found, column, seconds):
    return float(np.interp(seconds, found.rows[:, engine.R_TIME], found.rows[:, column]))
