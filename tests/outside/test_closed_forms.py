"""The motion engine against closed forms of flight mechanics, with a textbook aircraft: no drag, thrust or
lift limit.

Source: wings-level pull at constant load factor conserves V (n - cos gamma) (flight-mechanics textbooks;
derived again in docs/model.md). Height of a pull-through from level inverted: V^2/2g (((n+1)/(n-1))^2 - 1).
"""

import math

import numpy as np
import pytest

from keelturn.motion import engine
from keelturn.motion.flight import Start, fly_one, textbook_body
from keelturn.motion.legs import Leg, compile_legs
from keelturn.units import FT, G0, KT

TEXTBOOK = {
    "onset_g_s": 1e9,
    "lift_share": 1.0,
    "throttle_start": 0.0,
    "throttle_s": 1.0,
    "roll_share": 1.0,
    "roll_acc_deg_s2": 300.0,
}


def pull(n: float, start: Start, to_path_deg: float = 0.0, step_s: float = 0.05):
    legs, _ = compile_legs([Leg("pull", g=n, until="path_up_to_deg", amount=to_path_deg)], TEXTBOOK, 1.0, 1)
    return fly_one(start, legs, textbook_body(), step_s)[:2]


@pytest.mark.parametrize(("n", "feet"), [(3.0, 1912.47), (4.0, 1133.32)])
def test_pull_through_from_level_inverted_at_120_kt(n, feet, compared):
    """120 kt TAS: 3 g, 1,910 ft; 4 g, 1,133 ft (the formula above, to more figures)."""
    v = 120 * KT
    exact = v**2 / (2 * G0) * (((n + 1) / (n - 1)) ** 2 - 1)
    assert exact / FT == pytest.approx(feet, rel=1e-4)
    legs, _ = compile_legs([Leg("pull", g=n, until="pulled_to_deg", amount=360.0)], TEXTBOOK, 1.0, 1)
    summary, _, _ = fly_one(Start(3000, v, bank=math.pi, g=n), legs, textbook_body(), 0.05)
    compared(
        "pull-through from level inverted, ft",
        "closed form",
        -summary[0, engine.S_HEIGHT] / FT,
        exact / FT,
        rel=1e-6,
    )
    compared(
        "its exit speed, m/s", "closed form", summary[0, engine.S_EAS_END], v * (n + 1) / (n - 1), rel=1e-6
    )


@pytest.mark.parametrize("path_deg", [-20, -45, -70, -89])
@pytest.mark.parametrize("n", [1.8, 2.5, 4.0])
def test_pull_out_conserves_speed_times_excess_load(path_deg, n, compared):
    v0, path = 60.0, math.radians(path_deg)
    summary, rows = pull(n, Start(3000, v0, path=path, g=n))
    v1 = v0 * (n - math.cos(path)) / (n - 1)
    assert summary[0, engine.S_EAS_END] == pytest.approx(v1, rel=1e-6)
    compared(
        "pull-out at constant g, m",
        "closed form",
        -summary[0, engine.S_HEIGHT],
        (v1**2 - v0**2) / (2 * G0),
        rel=1e-6,
    )
    kept = rows[:, engine.R_TAS] * (n - np.cos(rows[:, engine.R_PATH]))
    assert kept == pytest.approx(kept[0], rel=1e-6)


def test_level_turn_keeps_height_and_turns_at_the_textbook_rate():
    """Turn rate g tan(bank)/V (any textbook)."""
    bank, v = math.radians(60), 55.0
    legs, _ = compile_legs([Leg("turn", until="turned_deg", amount=360.0)], TEXTBOOK, 1.0, 1)
    summary, _, _ = fly_one(Start(1000, v, bank=bank, g=2.0), legs, textbook_body(), 0.05)
    assert summary[0, engine.S_HEIGHT] == pytest.approx(0, abs=1e-3)
    assert summary[0, engine.S_SECONDS] == pytest.approx(2 * math.pi / (G0 * math.tan(bank) / v), rel=1e-6)


def test_ballistic_coast_is_a_parabola():
    """No lift: height gained in t is V sin(path) t - g t^2 / 2 (any textbook)."""
    v, path, t = 50.0, math.radians(40), 3.0
    legs, _ = compile_legs([Leg("coast", g=0.0, until="seconds", amount=t)], TEXTBOOK, 1.0, 1)
    summary, _, _ = fly_one(Start(1000, v, path=path, g=0.0), legs, textbook_body())
    assert summary[0, engine.S_HEIGHT] == pytest.approx(v * math.sin(path) * t - G0 * t * t / 2, rel=1e-6)
