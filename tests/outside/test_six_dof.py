"""The point mass against a six-degree-of-freedom flight-dynamics library (tests/outside/six_dof.py).

Given the same load-factor and roll histories: wings level 3 %, rolling 5 % or 15 ft (the smallest losses are
under 100 ft), split-S at idle 5 %, top of a powered loop 5 %. Given only the commands, with the usual pilot's
lag and the bank at which he begins to pull: wings level 5 %, rolled 10 %, mean 3 %."""

import math

import numpy as np
import pytest

from keelturn.flying.pilots import STUDENT
from keelturn.motion import engine
from keelturn.motion import equations as eq
from keelturn.motion.flight import Start, body_of, fly_one
from keelturn.motion.legs import Leg, compile_legs
from keelturn.units import DEG, FT, KT
from tests.outside.six_dof import AIR, Flight, fly, measured_aircraft, point_mass

pytestmark = pytest.mark.long

pytest.importorskip("jsbsim")
SOURCE = "six-degree-of-freedom library"
SETTLE, ONSET = 3.0, 1.5


def lost(flight: Flight) -> float:
    return (flight.height[0] - flight.height[-1]) / FT


def lost_by_us(states: np.ndarray) -> float:
    return (states[0, eq.UP] - states[-1, eq.UP]) / FT


def pull_out(path: float, kt: float, n: float) -> Flight:
    level = math.cos(path * DEG)
    return fly(
        kt,
        path,
        lambda t, now: (level if t < SETTLE else min(n, level + ONSET * (t - SETTLE)), 0.0, None),
        lambda t, now: t > SETTLE and now[0] > 0,
    ).since(SETTLE)


@pytest.mark.parametrize("n", [2.5, 3.0])
@pytest.mark.parametrize("kt", [70, 85])
@pytest.mark.parametrize("path", [-30, -45, -60])
def test_wings_level_pull_out(path, kt, n, compared):
    flight = pull_out(path, kt, n)
    compared(
        "pull-out, wings level, same load factor, ft",
        SOURCE,
        lost_by_us(point_mass(flight)),
        lost(flight),
        rel=0.03,
    )


def commanded(flight: Flight, n: float, roll: float | None = None) -> float:
    """Feet that our legs lose from where this flight begins, given the commands alone: the usual pilot's lag
    and the bank at which the pull begins, g at its onset. roll: the rate (rad/s) at which wings are levelled
    first."""
    numbers = {
        "onset_g_s": ONSET,
        "lift_share": 1e3,
        "throttle_start": 0.0,
        "throttle_s": 1.0,
        "roll_share": 1.0,
        "roll_acc_deg_s2": STUDENT["roll_acc_deg_s2"].usual,
        "lag_s": STUDENT["lag_s"].usual,
        "pull_from_bank_deg": STUDENT["pull_from_bank_deg"].usual,
    }
    body, legs = body_of(measured_aircraft(), AIR), [Leg("pull", g=n, until="path_up_to_deg")]
    g, bank = math.cos(flight.path[0]), 0.0
    if roll is not None:
        body[eq.ROLL_L] = body[eq.ROLL_R] = roll
        body[eq.ROLL_AT] = 1e-3
        legs = [
            Leg("roll", g=1.0, roll_within_deg="pull_from_bank_deg"),
            Leg("roll on", g=n, roll_to_deg=0.0),
            *legs,
        ]
        g, bank = flight.n[0], flight.bank[0]
    compiled, _ = compile_legs(legs, numbers, 20.0, 1)
    start = Start(flight.height[0], flight.tas[0], flight.path[0], bank, g=g)
    summary, _, _ = fly_one(start, compiled, body)
    return -float(summary[:, engine.S_HEIGHT].sum()) / FT


MEANS: dict[str, list[float]] = {}


@pytest.mark.parametrize("n", [2.5, 3.0])
@pytest.mark.parametrize("kt", [70, 85])
@pytest.mark.parametrize("path", [-30, -45, -60])
def test_pull_out_from_the_commands_alone(path, kt, n, compared):
    flight = pull_out(path, kt, n)
    ours = commanded(flight, n)
    MEANS.setdefault("level", []).append(ours / lost(flight) - 1.0)
    compared("pull-out, commands alone, ft", SOURCE, ours, lost(flight), rel=0.05)


def rolled_with_the_pull(bank: float, path: float, n: float) -> Flight:
    """A pilot who holds the bank until it is steady, rolls level, begins to pull at his bank and finishes the
    roll while the g comes. Begins where the roll out does."""
    side, at = math.copysign(1.0, bank), {"there": 0.0, "out": 0.0, "pull": 0.0, "level": 0.0}
    begins = STUDENT["pull_from_bank_deg"].usual * DEG

    def command(t, now):
        if t < SETTLE:
            return math.cos(path * DEG), 0.0, None
        if not at["there"]:
            at["there"] = t if abs(now[1]) >= abs(bank) * DEG - 0.15 else 0.0
            return 1.0, None, 0.9 * side
        if t < at["there"] + 1.5:
            return 1.0, bank * DEG, None
        at["out"] = at["out"] or t
        at["pull"] = at["pull"] or (t if abs(now[1]) <= begins else 0.0)
        at["level"] = at["level"] or (t if abs(now[1]) < 0.06 else 0.0)
        g = min(n, 1.0 + ONSET * (t - at["pull"])) if at["pull"] else 1.0
        return g, 0.0 if at["level"] else None, None if at["level"] else -0.9 * side

    flight = fly(75, path, command, lambda t, now: at["pull"] and now[0] > 0, height_ft=8000)
    return flight.since(at["out"])


@pytest.mark.parametrize("n", [2.5, 3.0])
@pytest.mark.parametrize("path", [-10, -25])
@pytest.mark.parametrize("bank", [60, 90, 120, -60, -120])
def test_rolled_recovery_from_the_commands_alone(bank, path, n, compared):
    """At the roll rate that the other aircraft reached."""
    flight = rolled_with_the_pull(bank, path, n)
    rolling = (np.abs(flight.bank) > 15 * DEG) & (flight.t < flight.t[0] + 3.0)
    ours = commanded(flight, n, float(np.median(np.abs(flight.p[rolling]))))
    MEANS.setdefault("rolled", []).append(ours / lost(flight) - 1.0)
    compared("roll and pull, commands alone, ft", SOURCE, ours, lost(flight), rel=0.10)


def test_commands_alone_agree_in_the_mean(compared):
    """Lag and the bank at which the pull begins are set together: mean within 3 % in both."""
    if len(MEANS.get("level", [])) < 12 or len(MEANS.get("rolled", [])) < 20:
        pytest.skip("needs the flights of the tests above")
    for case, off in MEANS.items():
        compared(
            f"commands alone, mean of {case}, ours over theirs",
            SOURCE,
            1.0 + float(np.mean(off)),
            1.0,
            rel=0.03,
        )


def rolled_level(bank: float, path: float, n: float, roll: float = 0.9) -> Flight:
    """Rolled in from wings level, and straight out again at about 1 g, then pulled. Begins where the roll out
    does."""
    side, at = math.copysign(1.0, bank), {"in": 0.0, "out": 0.0}

    def command(t, now):
        if t < SETTLE:
            return math.cos(path * DEG), 0.0, None
        if not at["in"] and abs(now[1]) >= abs(bank) * DEG - 0.15:
            at["in"] = t
        if not at["in"]:
            return 1.0, None, roll * side
        if not at["out"] and abs(now[1]) < 0.12:
            at["out"] = t
        return (min(n, 1.0 + ONSET * (t - at["out"])), 0.0, None) if at["out"] else (1.0, None, -roll * side)

    flight = fly(75, path, command, lambda t, now: at["out"] and now[0] > 0)
    return flight.since(at["in"])


@pytest.mark.parametrize("n", [2.5, 3.0])
@pytest.mark.parametrize("path", [-10, -25])
@pytest.mark.parametrize("bank", [60, 90, 120, -60, -120])
def test_rolled_level_then_pulled(bank, path, n, compared):
    flight = rolled_level(bank, path, n)
    ours = lost_by_us(point_mass(flight))
    compared("roll level then pull, ft", SOURCE, ours, lost(flight), rel=0.05, abs=15.0)
    assert ours >= 0.97 * lost(flight), "reads low, which is the unsafe side"


@pytest.mark.parametrize("n", [2.3, 2.8])
def test_split_s_at_idle(n, compared):
    at = {"inverted": 0.0}

    def command(t, now):
        if t < SETTLE:
            return 1.0, 0.0, None
        if not at["inverted"] and abs(now[1]) > math.pi - 0.25:
            at["inverted"] = t
        if not at["inverted"]:
            return 0.6, None, 1.5
        upside_down = abs(now[1]) > math.pi / 2
        return (
            min(n, 1.0 + ONSET * (t - at["inverted"])),
            math.copysign(math.pi, now[1]) if upside_down else 0.0,
            None,
        )

    flight = fly(
        70,
        0.0,
        command,
        lambda t, now: at["inverted"] and t > at["inverted"] + 3 and now[0] > 0 and abs(now[1]) < 1.5,
        height_ft=9000,
    )
    flight = flight.since(at["inverted"] + 0.3)
    compared("split-S at idle, ft", SOURCE, lost_by_us(point_mass(flight)), lost(flight), rel=0.05)


@pytest.mark.parametrize("kt", [115, 125])
def test_top_of_a_powered_loop(kt, compared):
    """From a dive at full throttle, pulled at 3.3 g to the top. Thrust from two speeds, as a card has it."""

    def command(t, now):
        upright = abs(now[1]) < 1.5
        if t < 6.0:
            return (math.cos(10 * DEG) if t < 5.0 else 1.5), 0.0, None
        return 3.3 if upright else 1.3, 0.0 if upright else math.copysign(math.pi, now[1]), None

    flight = fly(
        kt,
        -10,
        command,
        lambda t, now: t > 9 and abs(now[1]) > math.pi / 2 and now[0] < 0.02,
        throttle=1.0,
        height_ft=4000,
    ).since(6.0)
    compared(
        "top of a powered loop, ft", SOURCE, -lost_by_us(point_mass(flight, 1.0)), -lost(flight), rel=0.05
    )


def test_the_measured_aircraft_is_a_light_aircraft():
    """So that the comparison is with something of the kind: glide between 8 and 15 to 1 with the engine
    idling, best near 55 kt."""
    aircraft = measured_aircraft()
    assert 8 < aircraft.glide_ratio < 15
    assert 45 < aircraft.best_glide / KT < 70
    assert 0.1 < aircraft.thrust < 0.4
