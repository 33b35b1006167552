"""Handbook tables. Sources beside each; values quoted from memory are said to be."""

import math

import numpy as np
import pytest

from keelturn.aircraft.loading import stall_speed
from keelturn.flying.pilots import FIXED, usual_numbers
from keelturn.motion import engine
from keelturn.motion.flight import Start, fly_one, textbook_body
from keelturn.motion.legs import Leg, compile_legs
from keelturn.units import DEG, FT, KT
from tests.flights import HEAVY, NO_SPINS, TRAINER, at_card_weight


def level_turn(bank: float, tas: float) -> np.ndarray:
    """A second of level turn as the engine flies it, nothing slowing it down: the trace."""
    leg = Leg("turn", until="seconds", amount=1.0)
    legs, _ = compile_legs([leg], {**FIXED, **usual_numbers("reference"), "throttle_start": 0.0}, 25.0, 1)
    _, rows, _ = fly_one(Start(1000.0, tas * KT, bank=bank * DEG), legs, textbook_body())
    return rows


@pytest.mark.parametrize(
    ("bank", "factor", "stall"), [(30, 1.15, 1.07), (45, 1.41, 1.19), (60, 2.00, 1.41), (75, 3.86, 1.97)]
)
def test_load_factor_and_stall_speed_in_turns(bank, factor, stall):
    """FAA-H-8083-25C, load factor chart and stall speed increase (from memory)."""
    n = float(level_turn(bank, 120)[-1, engine.R_G])
    assert n == pytest.approx(factor, abs=0.006)
    conditions = at_card_weight(TRAINER)
    faster = stall_speed(TRAINER, conditions.loading.weight, n).value / conditions.stall.value
    assert faster == pytest.approx(stall, abs=0.006)


@pytest.mark.parametrize(("bank", "tas"), [(30, 100), (45, 120), (60, 90)])
def test_turn_rate_and_radius(bank, tas):
    """FAA-H-8083-25C: 1091 tan(bank) / V in degrees a second, V^2 / (11.26 tan(bank)) in feet; its rounded
    constants are 0.1 and 0.3 % off."""
    rows, slope = level_turn(bank, tas), math.tan(math.radians(bank))
    rate = (rows[-1, engine.R_HEADING] - rows[0, engine.R_HEADING]) / rows[-1, engine.R_TIME]
    assert rate / DEG == pytest.approx(1091.0 * slope / tas, rel=2e-3)
    assert tas * KT / rate / FT == pytest.approx(tas**2 / (11.26 * slope), rel=4e-3)


@pytest.mark.parametrize("card", [TRAINER, HEAVY, NO_SPINS], ids=lambda card: card.name)
def test_the_cards_limits_are_those_of_their_category(card):
    """14 CFR 23.337 before amendment 64 (from memory): 2.1 + 24000/(W + 10000), not more than 3.8, normal;
    4.4 utility; 6.0 aerobatic. Negative: at least 0.4 of it, aerobatic 0.5."""
    weight = card.balance.aerobatic_most_lb.value
    normal = min(3.8, 2.1 + 24000.0 / (weight + 10000.0))
    asked = {"normal": normal, "utility": 4.4, "aerobatic": 6.0}[card.category]
    negative = (0.5 if card.category == "aerobatic" else 0.4) * asked
    assert card.limits.most_g.value == pytest.approx(asked)
    assert -card.limits.least_g.value >= negative - 1e-9


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
