"""The shape of rolls, loops and lines: of made-up movements whose shape is known, and of flights."""

from dataclasses import replace
from functools import lru_cache

import numpy as np
import pytest

from keelturn.air import RHO0
from keelturn.assess.flight import judge
from keelturn.flying.costs import pilot_numbers
from keelturn.flying.course import fly
from keelturn.flying.trace import BANK, G, trace_of
from keelturn.recording.flown import Flown
from keelturn.recording.recorder import record_goes
from keelturn.recording.shape import LEAST_LINE_S, meant, shape_of
from keelturn.recording.truth import Go
from keelturn.units import DEG, FT, KT
from tests.core.test_catalogue_laws import KT_IN_MPH, in_mph
from tests.flights import TRAINER, at_card_weight, conditions, exact_sensors, figure
from tools.score_reading import as_recording

C = conditions()


@lru_cache
def shapes(key, rate_hz=16, **habits):
    planned = figure(key, 6000)
    table = record_goes([Go(planned, "student", habits)], C, exact_sensors(rate_hz))
    measured = judge(as_recording(table), (planned,), C)[1][0].measured
    return measured.shape, measured.meant


def moved(seconds, pitch, bank=0.0, heading=0.0, ias=100.0, g=1.0, hz=20.0):
    """Rows of what is given as functions of the time, or as numbers."""
    time = np.arange(0.0, seconds + 1e-9, 1.0 / hz)

    def of(value):
        return np.broadcast_to(np.asarray(value(time) if callable(value) else value, dtype=float), time.shape)

    return Flown.of(time, np.full(time.shape, 5000.0), *(of(v) for v in (ias, g, pitch, bank, heading)))


def circle(time):
    """A loop in twelve seconds: nose, and what the angles make of it beyond the vertical."""
    return (time * 30.0 + 180.0) % 360.0 - 180.0


def pitch_of(time):
    angle = circle(time)
    return np.where(np.abs(angle) > 90.0, np.sign(angle) * 180.0 - angle, angle)


def turned_over(time):
    return np.where(np.abs(circle(time)) > 90.0, 180.0, 0.0)


def test_a_circle_is_round_with_the_radius_of_its_speed():
    loop = moved(12.0, pitch_of, turned_over, turned_over)
    shape = shape_of(figure("loop", 5000), loop, C)
    sigma = C.air.density(5000.0 * FT) / RHO0
    radius = 100.0 * KT / FT / np.sqrt(sigma) / (30.0 * DEG)
    assert [round(r / radius, 1) for r in shape.radii_ft] == [1.0] * 4
    assert shape.roundness > 0.9
    assert shape.top_off_deg == pytest.approx(0.0, abs=1e-6)
    assert shape.nose_deg == ()


@pytest.mark.parametrize("aside", [-12.0, 12.0])
def test_a_loop_that_leans_comes_over_beside_its_heading(aside):
    loop = moved(12.0, pitch_of, turned_over, lambda t: turned_over(t) + aside * t / 6.0)
    assert shape_of(figure("loop", 5000), loop, C).top_off_deg == pytest.approx(aside, abs=0.5)


def test_an_egg_is_tight_at_the_top():
    slower = moved(
        12.0, pitch_of, turned_over, turned_over, ias=lambda t: 100.0 + 30.0 * np.cos(t * 30.0 * DEG)
    )
    shape = shape_of(figure("loop", 5000), slower, C)
    up, over, down, round_ = shape.radii_ft
    assert up > over
    assert round_ > down
    assert shape.roundness < 0.75


@pytest.mark.parametrize(
    ("upright", "held", "read", "past"),
    [(True, 84.0, 84.0, False), (False, 84.0, 96.0, True), (False, 88.5, 91.5, False)],
)
def test_a_line_short_of_the_vertical_and_past_it(upright, held, read, past):
    pitch = moved(
        6.0, lambda t: np.interp(t, [0, 2, 5, 6], [0, held, held, 60]), bank=0.0 if upright else 180.0
    )
    (line,) = shape_of(figure("stall_turn", 5000), pitch, C).lines
    assert line.angle_deg == pytest.approx(read, abs=0.1)
    assert line.past_vertical == past
    assert line.seconds == pytest.approx(3.0, abs=0.35)
    assert line.at_s == pytest.approx(2.0, abs=0.25)


@pytest.mark.parametrize(("seconds", "lines"), [(LEAST_LINE_S + 1.4, 1), (0.3, 0)])
def test_what_is_held_too_shortly_is_no_line(seconds, lines):
    nose = moved(6.0, lambda t: np.interp(t, [0, 2, 2 + seconds, 6], [0, 80, 80, 0]))
    assert len(shape_of(figure("stall_turn", 5000), nose, C).lines) == lines


@pytest.mark.parametrize("side", [-1.0, 1.0])
def test_the_nose_after_each_quarter_of_a_roll(side):
    """Rolled evenly in four seconds after one, the nose falling evenly from 20 to -10."""
    roll = moved(
        6.0,
        lambda t: np.interp(t, [1, 5], [20.0, -10.0]),
        lambda t: side * (np.interp(t, [1, 5], [0.0, 360.0]) + 180.0) % 360.0 - 180.0,
    )
    shape = shape_of(figure("slow_roll", 5000), roll, C)
    assert shape.nose_deg == pytest.approx((20.0, 12.5, 5.0, -2.5, -7.5), abs=2.5)
    assert shape.radii_ft == ()


def test_half_a_roll_has_no_quarters():
    roll = moved(6.0, 10.0, lambda t: np.interp(t, [1, 5], [0.0, 179.0]))
    assert shape_of(figure("slow_roll", 5000), roll, C).nose_deg == ()


@pytest.mark.parametrize("bank", [-11.0, 11.0])
def test_the_bank_where_the_first_pull_begins(bank):
    loop = moved(12.0, pitch_of, bank, 0.0, g=lambda t: np.where(t > 1.0, 3.0, 1.0))
    assert shape_of(figure("loop", 5000), loop, C).first_bank_deg == pytest.approx(bank)


def test_what_was_not_recorded_or_too_seldom_has_no_shape():
    loop = moved(12.0, pitch_of, turned_over, turned_over)
    nothing = np.full(loop.time.shape, np.nan)
    for missing in ("ias", "g", "turning"):
        assert shape_of(figure("loop", 5000), replace(loop, **{missing: nothing}), C) is None
    assert shape_of(figure("spin", 5000), loop, C) is None
    assert shapes("aileron_roll", rate_hz=1)[0] is None


@pytest.mark.parametrize(
    "key", ["aileron_roll", "slow_roll", "barrel_roll", "loop", "half_cuban", "stall_turn"]
)
def test_what_is_flown_as_meant_has_the_shape_that_is_meant(key):
    flown, planned = shapes(key)
    assert flown.nose_deg == pytest.approx(planned.nose_deg, abs=4.0)
    for a, b in zip(flown.radii_ft, planned.radii_ft, strict=True):
        assert a is None or b is None or a == pytest.approx(b, rel=0.12)
    assert [line.angle_deg for line in flown.lines] == pytest.approx(
        [line.angle_deg for line in planned.lines], abs=2.0
    )


def test_a_scooped_roll_an_egg_and_a_slanting_line_are_seen():
    flown, planned = shapes("slow_roll", scoop_g=1.2)
    assert flown.nose_deg[3] < planned.nose_deg[3] - 4.0
    egg, planned = shapes("loop", pull_g=-0.7, ease_error_g=0.5)
    assert egg.roundness < planned.roundness - 0.05
    slant, planned = shapes("stall_turn", angle_error_deg=-10.0)
    assert slant.lines[0].angle_deg == pytest.approx(planned.lines[0].angle_deg - 8.0, abs=2.5)
    assert meant(figure("spin", 6000), C) is None


def test_what_is_meant_does_not_hang_on_the_unit_of_the_card():
    approved = {
        kind: value and value.model_copy(update={"value": value.value * KT_IN_MPH})
        for kind, value in TRAINER.approved.items()
    }
    card = in_mph(TRAINER).model_copy(update={"speed_unit": "mph", "approved": approved})
    planned = figure("loop", 6000)
    in_kt, miles = (meant(planned, at_card_weight(one)).radii_ft for one in (TRAINER, card))
    assert miles == pytest.approx(in_kt, rel=0.01)


@pytest.mark.parametrize("side", ["left", "right"])
def test_g_on_its_back_and_off_it(side):
    """A slow roll pushes what the bank leaves of the weight; a scoop is a pull on the way off it."""

    def g_at(bank, **habits):
        planned = figure("slow_roll", 6000, side=side)
        rows = trace_of(fly(planned, C, pilot_numbers("student", **habits), 6000 * FT, trace=True))
        rolled = np.abs(np.unwrap(rows[:, BANK])) / DEG
        return float(np.interp(bank, rolled, rows[:, G]))

    assert g_at(180.0) == pytest.approx(-1.0, abs=0.1)
    assert g_at(180.0, on_its_back=-1.0) == pytest.approx(0.0, abs=0.1)
    assert g_at(90.0, scoop_g=1.0) == pytest.approx(g_at(90.0), abs=0.02)
    assert g_at(180.0, scoop_g=1.0) == pytest.approx(g_at(180.0), abs=0.1)
    assert g_at(225.0, scoop_g=1.0) == pytest.approx(g_at(225.0) + 1.0, abs=0.05)
    assert g_at(270.0, scoop_g=1.0) == pytest.approx(g_at(270.0), abs=0.1)
