"""The speed-and-g envelope of the aircraft at today's weight, for drawing and for checks."""

import math
from dataclasses import dataclass

from keelturn.aircraft.airframe import airframe
from keelturn.aircraft.blanks import value_of
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
    return Envelope(tuple(outline), fastest, value_of(card, "limits.rolling_g"), card.speed_unit)


def _steps(first: float, last: float, points: int) -> list[float]:
    return [first + (last - first) * i / (points - 1) for i in range(points)]
