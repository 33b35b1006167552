"""The front door of the spin: an aircraft in the day's air, spun by one pilot or a thousand."""

from dataclasses import dataclass, fields

import numpy as np

from keelturn.motion import equations as eq
from keelturn.motion.engine import R_BANK, R_G, R_LEG, R_TIME
from keelturn.motion.flight import Held
from keelturn.motion.legs import Floats
from keelturn.spinning import engine

STEP_S, FAN_STEP_S = 0.1, 0.2
MOST_ROWS = 1200
# What stands in the trace's column of legs while it spins.
IN_SPIN = -1.0


@dataclass(frozen=True, slots=True)
class Spinner:
    """One aircraft in one kind of spin: what equations.py needs beside the engine's airframe. Speeds EAS m/s:
    lifts_at the stall today (inverted: that one), moments_at the upright one. growth, rudder:
    1/s and rad/s^2 there. equilibrium: rad of rotation for each metre flown. inertia: rad of angle of attack
    for each (rad/s)^2. reference: sine of the spin's angle of attack. power_lifts, aileron_lifts: rad."""

    lifts_at: float
    moments_at: float
    growth: float
    rudder: float
    equilibrium: float
    inertia: float
    reference: float
    power_lifts: float
    aileron_lifts: float


@dataclass(frozen=True, slots=True)
class Spun:
    """told: (N, TOLD_COLUMNS) of spinning/engine.py; held: where the pull-out begins; traces: rows (R,
    SPIN_ROW_COLUMNS) of each pilot, none where they were not asked for."""

    told: Floats
    held: Held
    traces: tuple[Floats, ...]

    @property
    def rows(self) -> Floats:
        """Of the only pilot."""
        (rows,) = self.traces
        return rows

    def seconds(self, mark: int) -> Floats:
        """Since the stall, (N,)."""
        found: Floats = self.told[:, 2 * mark]
        return found

    def height(self, mark: int) -> Floats:
        """m, (N,)."""
        found: Floats = self.told[:, 2 * mark + 1]
        return found


def spin(
    spinner: Spinner,
    body: Floats,
    inputs: Floats,
    begin: Held,
    inverted: bool = False,
    trace: bool = False,
    step_s: float | None = None,
) -> Spun:
    """inputs: (N, INPUT_COLUMNS); begin: at the stall, states (N, STATES). body: motion/flight.py. An
    inverted spin is the same motion with the lift on the other side of the aircraft.

    Handed over wings level: without yaw and sideslip the motion's bank when the rotation stops is not
    believed, and pilots stop it upright (docs/model.md)."""
    pilots = len(inputs)
    states, g = np.ascontiguousarray(begin.states), begin.g
    if inverted:
        states, g = _other_side_up(states), np.abs(g)
    row = np.array([getattr(spinner, column.name) for column in fields(spinner)])
    told, ends = np.empty((pilots, engine.TOLD_COLUMNS)), np.empty((pilots, eq.STATES + 2))
    traces = []
    if trace:
        for i in range(pilots):
            rows = np.empty((MOST_ROWS, engine.SPIN_ROW_COLUMNS))
            filled = engine.spin_one(
                states[i],
                g[i],
                begin.throttle[i],
                inputs[i],
                row,
                body,
                step_s or STEP_S,
                rows,
                told[i],
                ends[i],
            )
            rows = _levelled(rows[:filled], told[i])
            if inverted:
                rows[:, [R_G, engine.X_ALPHA, engine.X_STICK]] *= -1.0
                rows[:, R_BANK] = (rows[:, R_BANK] + 2.0 * np.pi) % (2.0 * np.pi) - np.pi
            rows[:, R_LEG] = IN_SPIN
            traces.append(rows)
    else:
        engine.spin_many(states, g, begin.throttle, inputs, row, body, step_s or FAN_STEP_S, told, ends)
    states, g = np.ascontiguousarray(ends[:, : eq.STATES]), np.ascontiguousarray(ends[:, eq.STATES])
    states = _wings_level(states)
    if inverted:
        g = -g
        told[:, [engine.T_G_MOST, engine.T_G_LEAST]] = -told[:, [engine.T_G_LEAST, engine.T_G_MOST]]
    return Spun(told, Held(states, g, np.ascontiguousarray(ends[:, eq.STATES + 1])), tuple(traces))


def _other_side_up(states: Floats) -> Floats:
    turned = states.copy()
    turned[:, [eq.LX, eq.LY, eq.LZ]] *= -1.0
    return turned


def _wings_level(states: Floats) -> Floats:
    level = states.copy()
    u = states[:, [eq.UX, eq.UY, eq.UZ]]
    flat = np.sqrt(np.maximum(1.0 - u[:, 2:] ** 2, 1e-12))
    level[:, [eq.LX, eq.LY, eq.LZ]] = (np.array([[0.0, 0.0, 1.0]]) - u[:, 2:] * u) / flat
    return level


def _levelled(rows: Floats, told: Floats) -> Floats:
    """The trace's bank on its way to level from where the rotation stopped to the hand-over."""
    stopped, ended = told[2 * engine.M_STOPPED], told[2 * engine.M_ENDED]
    share = np.clip((rows[:, R_TIME] - stopped) / max(1e-6, ended - stopped), 0.0, 1.0)
    rows[:, R_BANK] *= 1.0 - share
    return rows
