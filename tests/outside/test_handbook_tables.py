"""Handbook tables. Sources beside each; values quoted from memory are said to be."""

import math

import pytest

from keelturn.aircraft.envelope import limit_load_factor, load_factor_in_turn, turn_radius_ft, turn_rate_deg_s
from keelturn.aircraft.loading import stall_speed
from keelturn.flying.pilots import FIXED, usual_numbers
from keelturn.motion import engine
from keelturn.motion.flight import Start, fly_one
from keelturn.motion.legs import Leg, compile_legs
from keelturn.units import DEG, FT, G0, KT
from tests.flights import TRAINER, at_card_weight


@pytest.mark.parametrize(
    ("bank", "factor", "stall"), [(30, 1.15, 1.07), (45, 1.41, 1.19), (60, 2.00, 1.41), (75, 3.86, 1.97)]
)
def test_load_factor_and_stall_speed_in_turns(bank, factor, stall):
    """FAA-H-8083-25C, load factor chart and stall speed increase (from memory)."""
    n = load_factor_in_turn(bank)
    assert n == pytest.approx(factor, abs=0.006)
    conditions = at_card_weight(TRAINER)
    assert stall_speed(TRAINER, conditions.loading.weight, n).value / conditions.stall.value == pytest.approx(
        stall, abs=0.006
    )


@pytest.mark.parametrize(("bank", "tas"), [(30, 100), (45, 120), (60, 90)])
def test_turn_rate_and_radius(bank, tas):
    """FAA-H-8083-25C: 1091 tan(bank)/V and V^2/(11.26 tan(bank)), against g tan(bank)/V and V^2/(g
    tan(bank)): the handbook's rounded constants are 0.1 and 0.3 % off."""
    v, slope = tas * KT, math.tan(math.radians(bank))
    assert turn_rate_deg_s(bank, tas) == pytest.approx(G0 * slope / v / DEG, rel=2e-3)
    assert turn_radius_ft(bank, tas) == pytest.approx(v**2 / (G0 * slope) / FT, rel=4e-3)


@pytest.mark.parametrize(
    ("category", "weight", "limit"),
    [
        ("normal", 2500, 3.8),
        ("normal", 8000, 2.1 + 24000 / 18000),
        ("utility", 2000, 4.4),
        ("aerobatic", 2000, 6.0),
    ],
)
def test_limit_load_factors(category, weight, limit):
    """14 CFR 23.337 before amendment 64 (from memory): 2.1 + 24000/(W + 10000), not more than 3.8; 4.4;
    6.0."""
    assert limit_load_factor(category, weight) == pytest.approx(limit)


def test_glide_flown_by_the_engine_is_the_glide_of_the_card():
    """A steady idle descent at the card's best glide speed descends one part in the card's glide ratio."""
    c = at_card_weight(TRAINER)
    ratio = TRAINER.speeds.glide_ratio.value
    path = -math.asin(1 / ratio)
    numbers = {**FIXED, **usual_numbers("reference"), "throttle_start": 0.0, "glide_g": math.cos(path)}
    legs, _ = compile_legs(
        [Leg("glide", g="glide_g", until="seconds", amount=5.0)], numbers, c.frame.stall, 1
    )
    _, rows, _ = fly_one(
        Start(200.0, c.frame.best_glide * (1.225 / c.air.density(200.0)) ** 0.5, path=path, g=math.cos(path)),
        legs,
        c.body,
    )
    first, last = rows[0], rows[-1]
    flown = -(last[engine.R_HEIGHT] - first[engine.R_HEIGHT]) / math.hypot(
        last[engine.R_NORTH] - first[engine.R_NORTH], 1e-9
    )
    assert flown == pytest.approx(math.tan(-path), rel=0.02)
    assert last[engine.R_EAS] == pytest.approx(c.frame.best_glide, rel=0.02)


def test_climb_and_top_speed_of_the_model_are_those_of_the_card():
    """Thrust was fitted to these two figures: they must come back."""
    from keelturn.aircraft.airframe import climb_rate
    from keelturn.units import FPM

    c, speeds = at_card_weight(TRAINER), TRAINER.speeds
    assert climb_rate(c.frame, TRAINER.speed_si(speeds.climb_ias.value), 1.0) / FPM == pytest.approx(
        speeds.climb_fpm.value, rel=1e-6
    )
    assert climb_rate(c.frame, TRAINER.speed_si(speeds.level_ias.value), 1.0) == pytest.approx(0, abs=1e-6)
