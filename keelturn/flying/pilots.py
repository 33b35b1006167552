"""The pilot as numbers: how late, how hard, how fast, and how much that varies from one attempt to the next.

Population defaults: common practice, no published source; chosen so that the figures of docs/model.md come
out where instructors expect them. They are drawn as normal values cut off at the bounds."""

from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache
from statistics import NormalDist
from types import MappingProxyType
from typing import Literal

import numpy as np

from keelturn.motion.legs import Floats

Who = Literal["student", "instructor", "reference"]


@dataclass(frozen=True, slots=True)
class PilotNumber:
    label: str
    unit: str
    usual: float
    varies: float
    least: float
    most: float


STUDENT: Mapping[str, PilotNumber] = MappingProxyType(
    {
        "delay_s": PilotNumber("Call to first input", "s", 0.9, 0.30, 0.2, 3.0),
        "gap_s": PilotNumber("Rudder to stick", "s", 0.5, 0.25, 0.0, 2.5),
        "turn_error": PilotNumber("Recovery called late", "turns", 0.0, 0.10, -0.2, 0.4),
        "recovery_factor": PilotNumber("Turns to stop, against the card", "", 1.1, 0.25, 1.0, 2.5),
        "entry_factor": PilotNumber("Height of the entry, against the card", "", 1.0, 0.10, 0.7, 1.4),
        "centre_s": PilotNumber("Rotation stops to pull", "s", 0.5, 0.20, 0.1, 1.5),
        "pull_g": PilotNumber("Pull, against the plan", "g", 0.0, 0.20, -0.8, 0.8),
        "onset_g_s": PilotNumber("g onset", "g/s", 1.5, 0.35, 0.6, 4.0),
        "throttle_s": PilotNumber("Throttle movement", "s", 0.8, 0.20, 0.3, 2.0),
        "roll_share": PilotNumber("Share of full aileron", "", 0.75, 0.12, 0.4, 1.0),
        "roll_g": PilotNumber("g while rolling", "g", 1.0, 0.15, 0.5, 1.6),
        "ease_error_g": PilotNumber("Ease-out, against the plan", "g", 0.0, 0.10, -0.3, 0.3),
        "height_keeping_ft": PilotNumber("Height let go while turning", "ft", 40.0, 30.0, 0.0, 150.0),
        "speed_error_kt": PilotNumber("Speed at the gate, against the plan", "kt", 0.0, 3.0, -9.0, 9.0),
        "angle_error_deg": PilotNumber("Lines and angles, against the plan", "deg", 0.0, 4.0, -12.0, 12.0),
        "lag_s": PilotNumber("Aircraft behind the stick", "s", 0.0, 0.0, 0.0, 1.0),
    }
)
INSTRUCTOR: Mapping[str, PilotNumber] = MappingProxyType(
    {
        **STUDENT,
        "delay_s": PilotNumber("Taking over to first input", "s", 0.7, 0.20, 0.2, 2.0),
        "gap_s": PilotNumber("Rudder to stick", "s", 0.3, 0.10, 0.0, 1.0),
        "recovery_factor": PilotNumber("Turns to stop, against the card", "", 1.0, 0.20, 1.0, 2.5),
        "turn_error": PilotNumber("Recovery called late", "turns", 0.0, 0.0, 0.0, 0.0),
        "centre_s": PilotNumber("Rotation stops to pull", "s", 0.4, 0.10, 0.1, 1.0),
        "pull_g": PilotNumber("Pull, against the plan", "g", 0.0, 0.15, -0.5, 0.5),
        "onset_g_s": PilotNumber("g onset", "g/s", 2.0, 0.30, 1.0, 4.0),
        "roll_share": PilotNumber("Share of full aileron", "", 0.9, 0.06, 0.6, 1.0),
        "speed_error_kt": PilotNumber("Speed at the gate, against the plan", "kt", 0.0, 2.0, -6.0, 6.0),
        "angle_error_deg": PilotNumber("Lines and angles, against the plan", "deg", 0.0, 2.0, -6.0, 6.0),
    }
)
# How the figures of a flight manual are taken to have been flown: promptly, with 2.5 g (see docs/model.md).
REFERENCE: Mapping[str, PilotNumber] = MappingProxyType(
    {
        key: PilotNumber(n.label, n.unit, value, 0.0, value, value)
        for key, value in {
            "delay_s": 0.0,
            "gap_s": 0.0,
            "turn_error": 0.0,
            "recovery_factor": 1.0,
            "entry_factor": 1.0,
            "centre_s": 0.3,
            "pull_g": 0.0,
            "onset_g_s": 2.0,
            "throttle_s": 0.5,
            "roll_share": 1.0,
            "roll_g": 1.0,
            "ease_error_g": 0.0,
            "height_keeping_ft": 0.0,
            "speed_error_kt": 0.0,
            "angle_error_deg": 0.0,
            "lag_s": 0.0,
        }.items()
        for n in (STUDENT[key],)
    }
)
PILOTS: Mapping[str, Mapping[str, PilotNumber]] = MappingProxyType(
    {"student": STUDENT, "instructor": INSTRUCTOR, "reference": REFERENCE}
)
# Numbers that do not vary between pilots: g flown in parts of figures, shares of full aileron, how much more
# drag a slip or a stall makes, when the rudder of a stall turn goes in. Common practice, no published source.
FIXED: Mapping[str, float] = MappingProxyType(
    {
        "lift_share": 0.92,
        "roll_acc_deg_s2": 240.0,
        "centre_g": 0.5,
        "unload_g": 0.4,
        "unload_s": 0.4,
        "stalled_g": 0.7,
        "unstall_g": 0.4,
        "flying_ratio": 1.15,
        "pull_ratio": 1.4,
        "push_g": -0.6,
        "settle_g": 1.5,
        "settle_down_g": 0.6,
        "ease_g": 1.5,
        "top_share": 0.75,
        "float_g": 0.5,
        "barrel_g": 1.3,
        "flick_g": 1.6,
        "full_roll": 0.95,
        "slow_deg_s": 45.0,
        "barrel_deg_s": 60.0,
        "point_share": 0.9,
        "flick_share": 3.0,
        "flick_drag": 4.0,
        "slip_drag": 2.2,
        "stall_drag": 2.0,
        "leaf_drag": 2.1,
        "top_rudder": 0.3,
        "down_power": 1.0,
        "kick_vs": 0.4,
    }
)
FAN = 768


def usual_numbers(who: Who) -> dict[str, Floats]:
    """The median pilot, arrays of shape (1,)."""
    return {key: np.array([number.usual]) for key, number in PILOTS[who].items()}


@lru_cache(maxsize=8)
def drawn_numbers(who: Who, pilots: int = FAN) -> Mapping[str, Floats]:
    """Pilots drawn evenly over the distributions, arrays of shape (pilots,). The same every time: an additive
    recurrence (Roberts 2018, generalised golden ratio, from memory) in place of random numbers, so that a
    plan does not flicker. Against 20,000 random pilots the 95th and 99th percentiles agree as
    tests/core/test_spread.py says."""
    numbers = PILOTS[who]
    phi = 2.0
    for _ in range(40):
        phi = (1.0 + phi) ** (1.0 / (len(numbers) + 1.0))
    normal = NormalDist()
    drawn: dict[str, Floats] = {}
    for k, (key, number) in enumerate(numbers.items()):
        evenly = (0.5 + np.arange(1, pilots + 1) * phi ** -(k + 1.0)) % 1.0
        z = np.array([normal.inv_cdf(min(max(float(q), 1e-6), 1.0 - 1e-6)) for q in evenly])
        drawn[key] = np.clip(number.usual + number.varies * z, number.least, number.most)
    return MappingProxyType(drawn)
