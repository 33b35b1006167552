"""The engine's front door: an airframe in the day's air, flown from a start through compiled legs."""

from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass

import numpy as np

from keelturn.air import DayAir
from keelturn.aircraft.airframe import LAWS, Airframe
from keelturn.motion import engine
from keelturn.motion import equations as eq
from keelturn.motion.legs import Floats

STEP_S = 0.1
FAN_STEP_S = 0.3
MOST_ROWS = 6000
# From this many pilots on, two threads share the work (the engine frees the interpreter).
SHARED_FROM = 2048


@dataclass(frozen=True, slots=True)
class Start:
    """Where the legs begin. Height m, TAS m/s, path, bank, heading rad; load factor and throttle; where over
    the ground m. Arrays of (N,) or scalars."""

    height: float | Floats
    tas: float | Floats
    path: float | Floats = 0.0
    bank: float | Floats = 0.0
    heading: float | Floats = 0.0
    g: float | Floats = 1.0
    throttle: float | Floats = 0.0


@dataclass(frozen=True, slots=True)
class Held:
    """Where legs begin when others ended there: states (N, STATES), load factors and throttles (N,)."""

    states: Floats
    g: Floats
    throttle: Floats


def body_of(frame: Airframe, air: DayAir) -> Floats:
    """The engine's airframe-and-air vector."""
    body = np.zeros(eq.BODY_COLUMNS)
    body[eq.STALL], body[eq.NEGATIVE] = frame.stall, frame.negative_share
    body[eq.GLIDE], body[eq.RATIO] = frame.best_glide, frame.glide_ratio
    body[eq.THRUST], body[eq.SLOPE], body[eq.THRUST_LAW] = frame.thrust, frame.thrust_slope, LAWS[frame.law]
    body[eq.ROLL_L], body[eq.ROLL_R], body[eq.ROLL_AT] = frame.roll_left, frame.roll_right, frame.roll_at
    body[eq.AIR_SHIFT], body[eq.AIR_T], body[eq.AIR_FIELD] = (
        air.pressure_height(0.0),
        air.temperature_k,
        air.field_m,
    )
    return body


def textbook_body() -> Floats:
    """No drag, no thrust, no lift limit, the same air everywhere: the closed forms of the flight-mechanics
    textbooks."""
    return np.ones(eq.BODY_COLUMNS)


def begin(start: Start, pilots: int) -> Held:
    """The states of a start, for each pilot."""
    states = np.zeros((pilots, eq.STATES))
    states[:, eq.V], states[:, eq.UP] = start.tas, start.height
    east, north = np.sin(start.heading), np.cos(start.heading)
    flat, up = np.cos(start.path), np.sin(start.path)
    states[:, eq.UX], states[:, eq.UY], states[:, eq.UZ] = flat * east, flat * north, up
    c, s = np.cos(start.bank), np.sin(start.bank)
    states[:, eq.LX], states[:, eq.LY] = -c * up * east + s * north, -c * up * north - s * east
    states[:, eq.LZ] = c * flat
    return Held(states, *(np.full(pilots, a, float) for a in (start.g, start.throttle)))


def fly_one(
    start: Start | Held, legs: Floats, body: Floats, step_s: float = STEP_S
) -> tuple[Floats, Floats, Held]:
    """One pilot, with the trace. legs: (1, L, columns). Returns summaries (L, ...), trace rows (R,
    ROW_COLUMNS) and where it ended."""
    summaries, traces, held = fly_each(start, legs, body, step_s)
    return summaries[0], traces[0], held


def fly_each(
    start: Start | Held, legs: Floats, body: Floats, step_s: float = STEP_S
) -> tuple[Floats, list[Floats], Held]:
    """A few pilots, each with a trace. legs: (N, L, columns). Returns summaries (N, L, SUMMARY_COLUMNS),
    trace rows (R, ROW_COLUMNS) of each and where they ended."""
    pilots = legs.shape[0]
    held = start if isinstance(start, Held) else begin(start, pilots)
    summaries, ends = (
        np.empty((*legs.shape[:2], engine.SUMMARY_COLUMNS)),
        np.empty((pilots, engine.END_COLUMNS)),
    )
    traces = []
    rows = np.empty((MOST_ROWS, engine.ROW_COLUMNS))
    for i in range(pilots):
        filled = engine.fly_legs(
            held.states[i], held.g[i], held.throttle[i], legs[i], body, step_s, rows, summaries[i], ends[i]
        )
        traces.append(rows[:filled].copy())
    return summaries, traces, _held(ends)


def fly_fan(
    start: Start | Held, legs: Floats, body: Floats, step_s: float = FAN_STEP_S
) -> tuple[Floats, Held]:
    """Many pilots, no trace. legs: (N, L, columns). Returns summaries (N, L, SUMMARY_COLUMNS) and where they
    ended."""
    pilots = legs.shape[0]
    held = start if isinstance(start, Held) else begin(start, pilots)
    summaries, ends = (
        np.empty((*legs.shape[:2], engine.SUMMARY_COLUMNS)),
        np.empty((pilots, engine.END_COLUMNS)),
    )

    def fly(part: slice) -> None:
        engine.fly_many(
            held.states[part],
            held.g[part],
            held.throttle[part],
            legs[part],
            body,
            step_s,
            summaries[part],
            ends[part],
        )

    if pilots < SHARED_FROM:
        fly(slice(None))
    else:
        with ThreadPoolExecutor(2) as pool:
            list(pool.map(fly, (slice(None, pilots // 2), slice(pilots // 2, None))))
    return summaries, _held(ends)


def _held(ends: Floats) -> Held:
    return Held(
        np.ascontiguousarray(ends[:, : eq.STATES]),
        np.ascontiguousarray(ends[:, engine.E_G]),
        np.ascontiguousarray(ends[:, engine.E_THROTTLE]),
    )
