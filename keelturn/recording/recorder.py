"""The stand-in recorder: what an instrument in the aircraft would write for a plan flown by a pilot of given
habits.

The truth comes from the same functions that plan and brief (flying/course.py); then the sensors spoil it:
noise, quantisation, dropouts, a clock that is off. The same seed gives the same table."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from keelturn.air import RHO0
from keelturn.document import Document
from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.flying.costs import pilot_numbers
from keelturn.flying.course import Course, fly
from keelturn.flying.entry import entry_speed
from keelturn.flying.numbers import ias_along, tas_at
from keelturn.flying.pilots import Who
from keelturn.flying.trace import (
    AILERON,
    ALPHA,
    EAS,
    EAST,
    HEADING,
    HEIGHT,
    LEG,
    NORTH,
    PATH,
    ROLL,
    RUDDER,
    STICK,
    TAS,
    THROTTLE,
    TIME,
    G,
    attitude,
    trace_of,
)
from keelturn.flying.trace import (
    COLUMNS as TRUTH_COLUMNS,
)
from keelturn.motion.legs import Floats
from keelturn.plan.chain import climb_fpm, link
from keelturn.plan.ground import along_line, carried
from keelturn.units import DEG, FT

# Seconds in which the speed is brought from one figure to the climb, and from it to the next gate.
CHANGE_S = 12.0


class Sensors(Document):
    """How the recorder spoils the truth. Noise is one standard deviation; steps are what the last digit
    stands for."""

    rate_hz: float = Field(10.0, gt=0, le=100)
    height_noise_ft: float = Field(4.0, ge=0, le=500)
    height_step_ft: float = Field(1.0, ge=0, le=100)
    ias_noise_kt: float = Field(0.7, ge=0, le=50)
    ias_step_kt: float = Field(0.1, ge=0, le=10)
    g_noise: float = Field(0.03, ge=0, le=2)
    angle_noise_deg: float = Field(0.5, ge=0, le=30)
    dropouts_share: float = Field(0.0, ge=0, le=0.9, description="Share of rows missing, in bursts")
    clock_offset_s: float = Field(0.0, ge=-86400, le=86400)
    controls: bool = False
    seed: int = Field(1, ge=0)


@dataclass(frozen=True, slots=True)
class Table:
    """columns: names with units, in order; rows: (R, C). figures: (id, first second, last second) on the true
    clock."""

    columns: tuple[str, ...]
    rows: Floats
    figures: tuple[tuple[str, float, float], ...]


COLUMNS = ("time_s", "pressure_height_ft", "ias_kt", "g", "pitch_deg", "bank_deg", "heading_deg")
CONTROLS = ("throttle_share", "aileron_share", "rudder_share", "elevator_share")


def record(
    figures: tuple[PlannedFigure, ...],
    conditions: Conditions,
    sensors: Sensors,
    who: Who = "student",
    habits: dict[str, float] | None = None,
) -> Table:
    """habits: added to the usual pilot's numbers by name. Raises KeyError for a habit that there is not,
    ValueError as `fly` does."""
    numbers = pilot_numbers(who, **(habits or {}))
    pieces, spans = [], []
    clock, height, speed, heading, place = (
        0.0,
        conditions.place.elevation_ft,
        None,
        along_line(conditions) * DEG,
        (0.0, 0.0),
    )
    for planned in figures:
        course = fly(planned, conditions, numbers, planned.start_ft * FT, trace=True)
        joined = link(conditions, height, speed, planned.start_ft, entry_speed(planned, conditions).value)
        speeds = (speed, entry_speed(planned, conditions).value)
        climb = _climb(
            conditions, clock, joined.minutes * 60.0, height, planned.start_ft, heading, place, speeds
        )
        clock, place = float(climb[-1, TIME]), (float(climb[-1, EAST]), float(climb[-1, NORTH]))
        flown = _truth(course, clock, heading, place, planned, conditions)
        spans.append((planned.id, clock, float(flown[-1, TIME])))
        pieces += [climb, flown]
        clock, height, heading = (
            float(flown[-1, TIME]),
            float(flown[-1, HEIGHT]) / FT,
            float(flown[-1, HEADING]),
        )
        place = (float(flown[-1, EAST]), float(flown[-1, NORTH]))
        speed = float(ias_along(conditions, flown[-1:, EAS], flown[-1:, HEIGHT])[0])
    truth = np.vstack(pieces) if pieces else np.zeros((0, TRUTH_COLUMNS))
    return Table(
        (*COLUMNS, *(CONTROLS if sensors.controls else ())), _sensed(truth, conditions, sensors), tuple(spans)
    )


def _climb(
    conditions: Conditions,
    clock: float,
    seconds: float,
    from_ft: float,
    to_ft: float,
    heading: float,
    place: tuple[float, float],
    speeds: tuple[float | None, float],
) -> Floats:
    """Straight to the next start: at the climb speed while there is height to win, then level for the
    lookout; from the speed that the figure before left (None at the very beginning) and to that of the next
    gate."""
    card = conditions.card
    climbing = max(0.0, to_ft - from_ft) / climb_fpm(conditions, (from_ft + to_ft) / 2.0) * 60.0
    times = np.unique(np.concatenate([np.arange(0.0, seconds, 1.0), [min(climbing, seconds), seconds]]))
    rows = np.zeros((len(times), TRUTH_COLUMNS))
    rows[:, [ALPHA, STICK, RUDDER, AILERON]] = np.nan
    climb_ias = card.speeds.climb_ias.value
    left, next_gate = climb_ias if speeds[0] is None else speeds[0], speeds[1]
    change_s = min(CHANGE_S, seconds / 3.0)
    ias = np.interp(
        times, [0.0, change_s, seconds - change_s, seconds], [left, climb_ias, climb_ias, next_gate]
    )
    tas = np.array([tas_at(conditions, float(v), (from_ft + to_ft) / 2.0 * FT) for v in ias])
    # Down to a lower start only after a look around.
    falling = np.clip((times - change_s) / max(1.0, seconds - change_s), 0.0, 1.0)
    share = np.clip(times / climbing, 0.0, 1.0) if climbing > 0 else falling
    rows[:, TIME], rows[:, HEIGHT] = clock + times, (from_ft + (to_ft - from_ft) * share) * FT
    rows[:, TAS], rows[:, EAS] = (
        tas,
        tas * np.sqrt(conditions.air.density((from_ft + to_ft) / 2.0 * FT) / RHO0),
    )
    rows[:, G], rows[:, HEADING], rows[:, THROTTLE], rows[:, LEG] = 1.0, heading, 1.0, -2.0
    rows[:, PATH] = np.where(
        times < climbing, np.arcsin(np.clip((to_ft - from_ft) * FT / max(climbing, 1.0) / tas, -1, 1)), 0.0
    )
    gone = np.concatenate([[0.0], np.cumsum(np.diff(times) * (tas[1:] + tas[:-1]) / 2.0)])
    east, north = np.sin(heading) * gone, np.cos(heading) * gone
    drifted = carried(conditions, times, rows[:, HEIGHT])
    rows[:, EAST], rows[:, NORTH] = place[0] + east + drifted[:, 0], place[1] + north + drifted[:, 1]
    return rows


def _truth(
    course: Course,
    clock: float,
    heading: float,
    place: tuple[float, float],
    planned: PlannedFigure,
    conditions: Conditions,
) -> Floats:
    """The course on the flight's clock and heading, carried by the wind."""
    rows = trace_of(course, planned)
    c, s = np.cos(heading), np.sin(heading)
    east, north = rows[:, EAST].copy(), rows[:, NORTH].copy()
    drifted = carried(conditions, rows[:, TIME], rows[:, HEIGHT])
    rows[:, EAST], rows[:, NORTH] = (
        place[0] + c * east + s * north + drifted[:, 0],
        place[1] - s * east + c * north + drifted[:, 1],
    )
    rows[:, HEADING] += heading
    rows[:, TIME] += clock
    return rows


def _sensed(truth: Floats, conditions: Conditions, sensors: Sensors) -> Floats:
    """Sampled at the recorder's rate, spoiled, with rows missing."""
    width = len(COLUMNS) + (len(CONTROLS) if sensors.controls else 0)
    if not len(truth):
        return np.zeros((0, width))
    chance = np.random.default_rng(sensors.seed)
    pitch, bank, heading = attitude(truth, conditions.frame.stall)
    times = np.arange(truth[0, TIME], truth[-1, TIME], 1.0 / sensors.rate_hz)
    number = len(times)

    def at(values: Floats) -> Floats:
        return np.interp(times, truth[:, TIME], values)

    def noisy(values: Floats, noise: float, step: float = 0.0) -> Floats:
        spoiled = values + chance.normal(0.0, noise, number) if noise > 0 else values
        return np.round(spoiled / step) * step if step > 0 else spoiled

    # np.interp holds still where one figure's clock meets the next: the few equal times there do no harm.
    ias = ias_along(conditions, truth[:, EAS], truth[:, HEIGHT])
    rows = np.zeros((number, width))
    rows[:, 0] = np.round(times + sensors.clock_offset_s, 3)
    rows[:, 1] = noisy(
        at(truth[:, HEIGHT]) / FT + conditions.air.pressure_height(0.0) / FT,
        sensors.height_noise_ft,
        sensors.height_step_ft,
    )
    rows[:, 2] = np.maximum(0.0, noisy(at(ias), sensors.ias_noise_kt, sensors.ias_step_kt))
    rows[:, 3] = noisy(at(truth[:, G]), sensors.g_noise, 0.01)
    for column, angle in ((4, pitch), (5, bank), (6, heading)):
        turned = noisy(at(np.unwrap(angle)) / DEG, sensors.angle_noise_deg, 0.1)
        rows[:, column] = turned % 360.0 if column == 6 else (turned + 180.0) % 360.0 - 180.0
    if sensors.controls:
        _controls(rows, truth, at, conditions)
    return rows[_kept(number, sensors, chance)]


def _controls(
    rows: Floats, truth: Floats, sample: Callable[[Floats], Floats], conditions: Conditions
) -> None:
    """Throttle, aileron, rudder, elevator as shares of full travel, right and back positive."""
    first = len(COLUMNS)
    frame = conditions.frame
    spinning = ~np.isnan(truth[:, STICK])
    rows[:, first] = np.clip(sample(truth[:, THROTTLE]), 0.0, 1.0)
    rolled = np.where(spinning, truth[:, AILERON], truth[:, ROLL] / frame.roll_right)
    rows[:, first + 1] = np.clip(sample(rolled), -1.0, 1.0)
    rows[:, first + 2] = sample(np.where(spinning, truth[:, RUDDER], 0.0))
    share = truth[:, G] * (frame.stall / np.maximum(truth[:, EAS], 1.0)) ** 2
    rows[:, first + 3] = np.clip(sample(np.where(spinning, truth[:, STICK], share)), -1.0, 1.0)


def _kept(number: int, sensors: Sensors, chance: np.random.Generator) -> NDArray[np.bool_]:
    """Which rows came through: bursts of up to two seconds are lost."""
    kept = np.ones(number, dtype=np.bool_)
    longest = max(1, int(2.0 * sensors.rate_hz))
    while sensors.dropouts_share > 0 and (~kept).mean() < sensors.dropouts_share:
        start = int(chance.integers(0, number))
        kept[start : start + int(chance.integers(1, longest + 1))] = False
    return kept
