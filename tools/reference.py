"""A second integrator for the engine's equations: scipy's DOP853, each leg ended by scipy's own event
location, each corner of the controls a restart. For the outside checks and for the bench; hundreds of times
slower than the engine."""

import math

import numpy as np
from scipy.integrate import solve_ivp

from keelturn.motion import engine
from keelturn.motion import equations as eq
from keelturn.motion.ends import next_corner
from keelturn.motion.flight import Held
from keelturn.motion.legs import Floats

COUNTED = (eq.BY_TURN, eq.BY_ROLL_THROUGH, eq.BY_LOOP)
TIMED = (eq.BY_TIME, eq.BY_ROLL_STOP)


def _counter_rate(y: Floats, rate: Floats, p: float, end: float, steep: bool) -> float:
    """How fast that which ends the leg is done: track, bank (roll rate + turn rate x sine of the path) or
    pitch."""
    if end != eq.BY_LOOP:
        turn = float((y[eq.UY] * rate[eq.UX] - y[eq.UX] * rate[eq.UY]) / (y[eq.UX] ** 2 + y[eq.UY] ** 2))
        if end == eq.BY_TURN:
            return turn
        return p if steep else p + turn * float(y[eq.UZ])
    return float(rate[eq.UX] * y[eq.LX] + rate[eq.UY] * y[eq.LY] + rate[eq.UZ] * y[eq.LZ])


def reference_end(held: Held, legs: Floats, body: Floats, rtol: float = 1e-10) -> Floats:
    """The state (STATES,) of the first pilot after these compiled legs (L, columns)."""
    y, g, throttle, roll, side = held.states[0].copy(), float(held.g[0]), float(held.throttle[0]), 0.0, 1.0
    fixed = tuple(float(b) for b in body)
    asked, before, waiting = g, g, 0.0
    for row in legs:
        leg = tuple(float(v) for v in row)
        at = engine.begun(tuple(y), leg, g, throttle, roll, side, asked, before, waiting)
        side = at[eq.SIDE]

        at_array = np.array(at)

        def left(t: float, y: Floats, row: Floats = row, at: Floats = at_array) -> float:
            return float(engine.left_of(y[: eq.STATES], t, y[eq.STATES], row, at, body))

        def rates(t: float, y: Floats, row: Floats = row, at: Floats = at_array) -> Floats:
            rate: Floats = engine.rates_of(y[: eq.STATES], t, row, at, body)
            rate[eq.STATES] = (
                _counter_rate(y, rate, rate[eq.STATES], row[eq.END], at[eq.GOAL] == eq.STEEP)
                if row[eq.END] in COUNTED
                else 0.0
            )
            return rate

        left.terminal = True  # type: ignore[attr-defined]
        y, t = np.append(y, 0.0), 0.0
        for corner in _corners(y, leg, at, fixed):
            if corner <= t + 1e-12 or left(t, y) <= engine.NOTHING_LEFT:
                continue
            events = None if leg[eq.END] in TIMED else left
            found = solve_ivp(rates, (t, corner), y, method="DOP853", rtol=rtol, atol=1e-10, events=events)
            t, y = float(found.t[-1]), found.y[:, -1]
            if found.status == 1:
                break
        y = y[: eq.STATES]
        g, roll, throttle, _ = eq.controls(tuple(y), t, leg, at, fixed, eq.eas_of(tuple(y), fixed))
        asked = leg[eq.G_CMD] if leg[eq.LIFT] == eq.LIFT_G and leg[eq.KIND] == eq.FLIES else g
        before, waiting = at[eq.BEFORE_G], max(0.0, at[eq.G_WAIT] - t)
        if leg[eq.END] == eq.BY_ROLL_STOP:
            roll = 0.0
        if leg[eq.END] == eq.BY_ROLL_STOP and leg[eq.AROUND] == 0.0:
            y = np.array(engine.banked(tuple(y), leg[eq.BANK]))
    end: Floats = y
    return end


def _corners(
    y: Floats, leg: tuple[float, ...], at: tuple[float, ...], body: tuple[float, ...]
) -> list[float]:
    """Where the controls' courses bend, up to the end of a timed leg."""
    last = 60.0
    if leg[eq.END] == eq.BY_TIME:
        last = leg[eq.END_AT]
    elif leg[eq.END] == eq.BY_ROLL_STOP:
        last = abs(at[eq.AT_ROLL]) / leg[eq.ROLL_ACC]
    corners, t = [last], 0.0
    while t < last:
        t = float(next_corner(tuple(y[: eq.STATES]), t, leg, at, body))
        if t < last and not math.isinf(t):
            corners.append(t)
    return sorted(corners)
