"""The least height that this aircraft allowed from a state: the practical best, which a pilot is compared
with, and the mathematical bound, which nobody should fly.

Rolling level first and pulling then is not the least. The least is found by rolling at full rate from the
first moment and pulling the usable g as soon as the bank is below a switch angle, with a search over that
angle (found to 0.2 % in trials: docs/model.md)."""

from dataclasses import dataclass

import numpy as np

from keelturn.aircraft.blanks import value_of
from keelturn.flying.conditions import Conditions
from keelturn.flying.pilots import FIXED
from keelturn.motion import engine
from keelturn.motion.flight import Start, fly_fan
from keelturn.motion.legs import Floats, Leg, Numbers, compile_legs
from keelturn.units import DEG, FT

# Controls that move at once: what the aircraft allowed, not what a hand can do. No attempt can then beat its
# best.
AT_ONCE = {"onset_g_s": 1e6, "roll_acc_deg_s2": 1e6, "throttle_s": 1e-6, "lift_share": 1.0}
LEGS = (
    Leg("Roll", g="before_g", throttle=0.0, roll_to_deg="switch_deg", roll_on=True),
    Leg("Roll and pull", g="rolling_pull_g", throttle=0.0, roll_to_deg=0.0),
    Leg("Pull-out", g="most_g", throttle=0.0, until="path_up_to_deg"),
)
SWITCHES, BEFORE_G = 41, (0.0, 0.5, 1.0)


@dataclass(frozen=True, slots=True)
class State:
    """Where a recovery begins: height ft on QNH, TAS m/s, bank (right positive) and flight path deg, g and
    throttle."""

    height_ft: float
    tas: float
    bank_deg: float
    path_deg: float
    g: float = 1.0
    throttle: float = 0.0


@dataclass(frozen=True, slots=True)
class Best:
    """Feet lost, and the bank (deg) below which the pull began."""

    lost_ft: float
    switch_deg: float


def _least(state: State, conditions: Conditions, most_g: float, rolling_g: float) -> Best:
    """The least over the switch angle and the g before it."""
    beyond = abs(state.bank_deg)
    switches = np.unique(np.concatenate([np.linspace(0.0, max(beyond, 1e-3), SWITCHES)]))
    switch, before = (grid.ravel() for grid in np.meshgrid(switches, np.array(BEFORE_G)))
    sign = 1.0 if state.bank_deg >= 0 else -1.0
    numbers: Numbers = {
        **FIXED,
        **AT_ONCE,
        "roll_share": 1.0,
        "throttle_start": state.throttle,
        "before_g": before,
        "switch_deg": sign * switch,
        "rolling_pull_g": np.full(switch.shape, rolling_g),
        "most_g": most_g,
    }
    compiled, _ = compile_legs(LEGS, numbers, conditions.frame.stall, len(switch))
    start = Start(
        state.height_ft * FT,
        state.tas,
        state.path_deg * DEG,
        state.bank_deg * DEG,
        g=state.g,
        throttle=state.throttle,
    )
    summary, _ = fly_fan(start, compiled, conditions.body, 0.1)
    lost: Floats = np.maximum(0.0, state.height_ft - summary[:, :, engine.S_LOWEST].min(axis=1) / FT)
    at = int(np.argmin(lost))
    return Best(float(lost[at]), float(switch[at]))


def practical_best(state: State, conditions: Conditions, most_g: float | None = None) -> Best:
    """The least height with g while rolling held to the rolling limit. most_g: the pull that was briefed or
    that the aircraft allows; None for the limit of the card."""
    most = conditions.card.limits.most_g.value if most_g is None else most_g
    return _least(state, conditions, most, min(most, value_of(conditions.card, "limits.rolling_g")))


def mathematical_bound(state: State, conditions: Conditions, most_g: float | None = None) -> Best:
    """The least that the equations allow: the full pull while rolling, controls at once. Never a technique:
    it breaks the rolling limit."""
    most = conditions.card.limits.most_g.value if most_g is None else most_g
    return _least(state, conditions, most, most)
