"""The speed-and-g envelope of the aircraft at today's weight, for drawing and for checks."""

import math
from dataclasses import dataclass

from keelturn.aircraft.airframe import airframe
from keelturn.aircraft.card import Card
from keelturn.aircraft.loading import scaled_speed


@dataclass(frozen=True, slots=True)
class Envelope:
    """Corner points (speed in the card's unit, g), clockwise from the stall at +1 g; limits beside it."""

    outline: tuple[tuple[float, float], ...]
    never_exceed: float
    rolling_g: float
    speed_unit: str


def envelope(card: Card, weight_lb: float, points: int = 14) -> Envelope:
    """Lift limit n = (V/Vs)^2 up to the limit g, Vne, and the negative side (its lift limit taken as 0.7 of
    upright: common practice, no published source, where the card has no inverted stall speed)."""
    stall = scaled_speed(card, card.speeds.stall_ias.value, weight_lb)
    top, bottom, fastest = (
        card.limits.most_g.value,
        card.limits.least_g.value,
        card.speeds.never_exceed_ias.value,
    )
    inverted_stall = stall / math.sqrt(airframe(card, weight_lb).negative_share)
    upper = [(stall * math.sqrt(n), n) for n in _steps(0.0, top, points)]
    lower = [(inverted_stall * math.sqrt(-n), n) for n in _steps(bottom, 0.0, points) if n < 0]
    outline = (
        [p for p in upper if p[0] <= fastest]
        + [(fastest, top), (fastest, bottom)]
        + [p for p in lower if p[0] <= fastest]
    )
    return Envelope(tuple(outline), fastest, card.limits.rolling_g.value, card.speed_unit)


def _steps(first: float, last: float, points: int) -> list[float]:
    return [first + (last - first) * i / (points - 1) for i in range(points)]


def load_factor_in_turn(bank_deg: float) -> float:
    """n = 1 / cos(bank), level turn. FAA-H-8083-25C."""
    return 1.0 / math.cos(math.radians(bank_deg))


def turn_rate_deg_s(bank_deg: float, tas_kt: float) -> float:
    """1091 tan(bank) / V. FAA-H-8083-25C (from memory)."""
    return 1091.0 * math.tan(math.radians(bank_deg)) / tas_kt


def turn_radius_ft(bank_deg: float, tas_kt: float) -> float:
    """V^2 / (11.26 tan(bank)). FAA-H-8083-25C (from memory)."""
    return tas_kt**2 / (11.26 * math.tan(math.radians(bank_deg)))


def limit_load_factor(category: str, weight_lb: float) -> float:
    """Positive limit load factor of 14 CFR 23.337 before amendment 64: 2.1 + 24000/(W + 10000), not more than
    3.8, for the normal category; 4.4 utility; 6.0 aerobatic."""
    fixed = {"utility": 4.4, "aerobatic": 6.0}
    if category in fixed:
        return fixed[category]
    return min(3.8, 2.1 + 24000.0 / (weight_lb + 10000.0))
