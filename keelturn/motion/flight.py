"""The engine's front door: an airframe in the day's air, flown from a start through compiled legs."""

from dataclasses import dataclass

import numpy as np

from keelturn.air import DayAir
from keelturn.aircraft.airframe import Airframe
from keelturn.motion import engine
from keelturn.motion.legs import Floats

STEP_S = 0.05
FAN_STEP_S = 0.1
MOST_ROWS = 4000


@dataclass(frozen=True, slots=True)
class Start:
    """Where the legs begin. Height m, TAS m/s, path, bank, heading rad; load factor and throttle. Arrays of (N,) or scalars."""

    height: float | Floats
    tas: float | Floats
    path: float | Floats = 0.0
    bank: float | Floats = 0.0
    heading: float | Floats = 0.0
    g: float | Floats = 1.0
    throttle: float | Floats = 0.0


def body_of(frame: Airframe, air: DayAir) -> Floats:
    """The engine's airframe-and-air vector."""
    return np.array([
        frame.stall, frame.best_glide, frame.glide_ratio, frame.static_thrust, frame.thrust_slope, frame.roll_left,
        frame.roll_right, frame.roll_at, air.pressure_height(0.0), air.temperature_k, air.field_m, 0.0,
    ])


def textbook_body() -> Floats:
    """No drag, no thrust, no lift limit: the closed forms of the flight-mechanics textbooks."""
    body = np.ones(12)
    body[engine.AIR_SHIFT] = 0.0
    return body


def state_of(start: Start, pilots: int) -> Floats:
    """State vectors, shape (pilots, 10)."""
    path, bank, heading = (np.broadcast_to(a, pilots) for a in (start.path, start.bank, start.heading))
    state = np.zeros((pilots, 10))
    state[:, engine.V], state[:, engine.UP] = start.tas, start.height
    east, north = np.sin(heading), np.cos(heading)
    flat, up = np.cos(path), np.sin(path)
    state[:, engine.UX], state[:, engine.UY], state[:, engine.UZ] = flat * east, flat * north, up
    c, s = np.cos(bank), np.sin(bank)
    state[:, engine.LX], state[:, engine.LY] = -c * up * east + s * north, -c * up * north - s * east
    state[:, engine.LZ] = c * flat
    return state


def fly_one(start: Start, legs: Floats, body: Floats, step_s: float = STEP_S) -> tuple[Floats, Floats]:
    """One pilot, with the trace. legs: (1, L, columns). Returns summaries (L, ...) and trace rows (R, ROW_COLUMNS)."""
    rows = np.empty((MOST_ROWS, engine.ROW_COLUMNS))
    g, throttle = float(np.ravel(start.g)[0]), float(np.ravel(start.throttle)[0])
    summary, filled = engine.fly_legs(state_of(start, 1)[0], g, throttle, legs[0], body, step_s, rows)
    return summary, rows[:filled]


def fly_fan(start: Start, legs: Floats, body: Floats, step_s: float = FAN_STEP_S) -> Floats:
    """Many pilots, no trace. legs: (N, L, columns). Returns summaries (N, L, SUMMARY_COLUMNS)."""
    pilots = legs.shape[0]
    g, throttle = (np.ascontiguousarray(np.broadcast_to(a, pilots).astype(float)) for a in (start.g, start.throttle))
    result: Floats = engine.fly_many(state_of(start, pilots), g, throttle, legs, body, step_s)
    return result
