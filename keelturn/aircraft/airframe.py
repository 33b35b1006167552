"""From the card to the few SI numbers that the motion engine flies with, at today's weight.

Drag from the glide figures, thrust from the climb and level-speed figures: fitted, see docs/model.md.
"""

import math
from dataclasses import dataclass

from keelturn.aircraft import laws
from keelturn.aircraft.blanks import value_of
from keelturn.aircraft.card import Card, ThrustLaw
from keelturn.document import Wrong
from keelturn.units import DEG, FPM

# Lift limit downward against upward, and glide ratio with flap against clean, where the card has neither
# figure (common practice, no published source).
NEGATIVE_SHARE = 0.7
FLAP_GLIDE_SHARE = 0.7
LAWS: dict[ThrustLaw, float] = {
    "fixed pitch": laws.LINEAR,
    "constant speed": laws.HYPERBOLA,
    "jet": laws.JET,
}


@dataclass(frozen=True, slots=True)
class Airframe:
    """Speeds are EAS in m/s at today's weight; roll rates rad/s at `roll_at` (true). Full thrust over weight
    at sea level: thrust - thrust_slope V (fixed pitch, jet) or thrust / (V + thrust_slope) (constant speed).
    negative_share: lift limit downward over upward."""

    stall: float
    negative_share: float
    best_glide: float
    glide_ratio: float
    law: ThrustLaw
    thrust: float
    thrust_slope: float
    roll_left: float
    roll_right: float
    roll_at: float

    def full_thrust(self, eas: float, density_ratio: float = 1.0) -> float:
        """Full throttle over weight in air of this density ratio."""
        at_sea_level = laws.full_thrust(eas, LAWS[self.law], self.thrust, self.thrust_slope)
        return float(at_sea_level * laws.power_ratio(density_ratio, LAWS[self.law]))

    def drag(self, eas: float, load_factor: float = 1.0) -> float:
        """Over weight, on the glide's parabola."""
        return float(laws.drag_over_weight(eas, load_factor, self.best_glide, self.glide_ratio))


def airframe(card: Card, weight_lb: float, flap: bool = False) -> Airframe:
    """The card's numbers moved to this weight (lb). Thrust over weight runs through two points, the card's
    best climb and its highest level speed, by the card's law: a line (fixed pitch, jet) or power over an
    offset speed (constant speed; the offset keeps it finite at rest). Raises Wrong when the two points
    cannot be met by a falling curve."""
    speeds = card.speeds
    ratio = weight_lb / speeds.reference_lb.value
    glide_at_card = card.speed_si(speeds.glide_ias.value)
    climb, level = card.speed_si(speeds.climb_ias.value), card.speed_si(speeds.level_ias.value)
    best = speeds.glide_ratio.value
    at_climb = laws.drag_over_weight(climb, 1.0, glide_at_card, best) + speeds.climb_fpm.value * FPM / climb
    at_level = laws.drag_over_weight(level, 1.0, glide_at_card, best)
    slope = (at_climb - at_level) / (level - climb)
    if not slope > 0:
        raise Wrong(
            (
                "speeds.climb_fpm",
                "thrust at the best climb does not exceed thrust at the highest level speed",
                "Check rate and speed of climb, highest level speed and glide ratio against each other.",
            )
        )
    thrust, fall = (at_climb + slope * climb) / ratio, slope / ratio
    if card.thrust == "constant speed":
        fall = (at_level * level - at_climb * climb) / (at_climb - at_level)
        if not fall > 0:
            raise Wrong(
                (
                    "thrust",
                    "'constant speed' needs more power at the highest level speed than in the climb",
                    "Check rate and speed of climb and highest level speed, or say 'fixed pitch'.",
                )
            )
        thrust = at_climb * (climb + fall) / ratio
    stall = speeds.stall_flap_ias if flap else speeds.stall_ias
    negative = NEGATIVE_SHARE
    if speeds.stall_inverted_ias is not None:
        negative = (
            card.speed_si(speeds.stall_ias.value) / card.speed_si(speeds.stall_inverted_ias.value)
        ) ** 2
    if flap:
        best = (
            speeds.flap_glide_ratio.value if speeds.flap_glide_ratio is not None else FLAP_GLIDE_SHARE * best
        )
    return Airframe(
        stall=card.speed_si(stall.value) * math.sqrt(ratio),
        negative_share=negative,
        best_glide=glide_at_card * math.sqrt(ratio),
        glide_ratio=best,
        law=card.thrust,
        thrust=thrust,
        thrust_slope=fall,
        roll_left=value_of(card, "roll.left_deg_s") * DEG,
        roll_right=value_of(card, "roll.right_deg_s") * DEG,
        roll_at=card.speed_si(value_of(card, "roll.at_ias")),
    )


def climb_rate(frame: Airframe, climb_eas: float, density_ratio: float) -> float:
    """Full-throttle rate of climb (m/s, true) at this EAS and density ratio: V (T - D)/W."""
    surplus = frame.full_thrust(climb_eas, density_ratio) - frame.drag(climb_eas)
    return surplus * climb_eas / math.sqrt(density_ratio)
