"""From the card to the few SI numbers that the motion engine flies with, at today's weight.

Drag from the glide figures, thrust from the climb and level-speed figures: fitted, see docs/model.md.
"""

import math
from dataclasses import dataclass

from keelturn.aircraft.card import Card
from keelturn.units import DEG, FPM


@dataclass(frozen=True, slots=True)
class Airframe:
    """Speeds are EAS in m/s at today's weight; thrust per weight at sea-level density; roll rates rad/s at `roll_at`."""

    stall: float
    best_glide: float
    glide_ratio: float
    static_thrust: float
    thrust_slope: float
    roll_left: float
    roll_right: float
    roll_at: float


def drag_over_weight(eas: float, load_factor: float, best_glide: float, glide_ratio: float) -> float:
    """D/W = ((V/Vbg)^2 + n^2 (Vbg/V)^2) / (2 L/D): the parabolic polar that has this best glide. Flight mechanics textbook."""
    x = (eas / best_glide) ** 2
    return (x + load_factor**2 / x) / (2.0 * glide_ratio)


def airframe(card: Card, weight_lb: float) -> Airframe:
    """The card's numbers moved to this weight (lb). Thrust per weight falls linearly with speed through two points: the
    card's best climb and its highest level speed. Raises ValueError when those two cannot be met by a falling line."""
    speeds = card.speeds
    ratio = weight_lb / speeds.reference_lb.value
    glide_at_card = card.speed_si(speeds.glide_ias.value)
    climb, level = card.speed_si(speeds.climb_ias.value), card.speed_si(speeds.level_ias.value)
    best = speeds.glide_ratio.value
    at_climb = drag_over_weight(climb, 1.0, glide_at_card, best) + speeds.climb_fpm.value * FPM / climb
    at_level = drag_over_weight(level, 1.0, glide_at_card, best)
    slope = (at_climb - at_level) / (level - climb)
    if not slope > 0:
        raise ValueError(
            "speeds: thrust at the best climb must exceed thrust at the highest level speed; "
            "check climb_fpm, climb_ias, level_ias and glide_ratio against each other"
        )
    return Airframe(
        stall=card.speed_si(speeds.stall_ias.value) * math.sqrt(ratio),
        best_glide=glide_at_card * math.sqrt(ratio),
        glide_ratio=best,
        static_thrust=(at_climb + slope * climb) / ratio,
        thrust_slope=slope / ratio,
        roll_left=card.roll.left_deg_s.value * DEG,
        roll_right=card.roll.right_deg_s.value * DEG,
        roll_at=card.speed_si(card.roll.at_ias.value),
    )


def climb_rate(frame: Airframe, climb_eas: float, density_ratio: float) -> float:
    """Full-throttle rate of climb (m/s, true) at this EAS and density ratio: V (T - D)/W."""
    thrust = (frame.static_thrust - frame.thrust_slope * climb_eas) * power_ratio(density_ratio)
    surplus = thrust - drag_over_weight(climb_eas, 1.0, frame.best_glide, frame.glide_ratio)
    return surplus * climb_eas / math.sqrt(density_ratio)


def power_ratio(density_ratio: float) -> float:
    """Power of an unsupercharged piston engine against sea level: 1.132 s - 0.132 (Gagg and Farrar 1934, from memory)."""
    return 1.132 * density_ratio - 0.132


