"""The stand-in recorder: what an instrument in the aircraft would write for a plan flown by a pilot of given
habits.

The truth comes from the same functions that plan and brief (flying/course.py); then the sensors spoil it:
noise, quantisation, dropouts, a clock that is off. The same seed gives the same table."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from keelturn.document import Document
from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.flying.numbers import ias_along
from keelturn.flying.pilots import Who
from keelturn.flying.trace import EAS, HEIGHT, TIME, G, attitude, controls
from keelturn.motion.legs import Floats
from keelturn.recording.cleaning import follows
from keelturn.recording.table import ATTITUDE, CONTROLS, Column
from keelturn.recording.truth import Go, TrueFigure, fly_all
from keelturn.units import DEG, FT, KT, SPEED

# A wild field is this times the noise off, or more.
WILD = 60.0


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
    height_lag_s: float = Field(0.0, ge=0, le=5, description="How late the static line follows")
    ias_lag_s: float = Field(0.0, ge=0, le=5)
    g_bias: float = Field(0.0, ge=-1, le=1)
    spikes_share: float = Field(0.0, ge=0, le=0.2, description="Share of fields that are wild")
    dropouts_share: float = Field(0.0, ge=0, le=0.9, description="Share of rows missing, in bursts")
    clock_offset_s: float = Field(0.0, ge=-86400, le=86400)
    controls: bool = False
    seed: int = Field(1, ge=0)


@dataclass(frozen=True, slots=True)
class Table:
    """columns: names with units, in order; rows: (R, C). figures: what is true of each, on
    the true clock."""

    columns: tuple[str, ...]
    rows: Floats
    figures: tuple[TrueFigure, ...]


COLUMNS = (Column.TIME, Column.PRESSURE_HEIGHT, Column.IAS, Column.G, *ATTITUDE)


def record(
    figures: tuple[PlannedFigure, ...],
    conditions: Conditions,
    sensors: Sensors,
    who: Who = "student",
    habits: dict[str, float] | None = None,
) -> Table:
    """One pilot's flight. habits: added to the usual pilot's numbers by name. Raises KeyError for a habit
    that there is not, ValueError as `fly` does."""
    return record_goes([Go(planned, who, habits or {}) for planned in figures], conditions, sensors)


def record_goes(goes: Sequence[Go], conditions: Conditions, sensors: Sensors) -> Table:
    """The same of goes with a pilot each."""
    truth, figures = fly_all(goes, conditions)
    columns = (*COLUMNS, *(CONTROLS if sensors.controls else ()))
    return Table(columns, _sensed(truth, conditions, sensors), figures)


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
    ias = ias_along(conditions, truth[:, EAS], truth[:, HEIGHT]) * SPEED[conditions.card.speed_unit] / KT
    height = truth[:, HEIGHT] / FT + conditions.air.pressure_height(0.0) / FT
    rows = np.zeros((number, width))
    rows[:, 0] = np.round(times + sensors.clock_offset_s, 3)
    rows[:, 1] = noisy(
        follows(at(height), sensors.height_lag_s * sensors.rate_hz),
        sensors.height_noise_ft,
        sensors.height_step_ft,
    )
    speed = follows(at(ias), sensors.ias_lag_s * sensors.rate_hz)
    rows[:, 2] = np.maximum(0.0, noisy(speed, sensors.ias_noise_kt, sensors.ias_step_kt))
    rows[:, 3] = noisy(at(truth[:, G]) + sensors.g_bias, sensors.g_noise, 0.01)
    for column, angle in ((4, pitch), (5, bank), (6, heading)):
        turned = noisy(at(np.unwrap(angle)) / DEG, sensors.angle_noise_deg, 0.1)
        rows[:, column] = turned % 360.0 if column == 6 else (turned + 180.0) % 360.0 - 180.0
    if sensors.controls:
        for column, moved in enumerate(controls(truth, conditions).T, len(COLUMNS)):
            rows[:, column] = at(moved)
    if sensors.spikes_share > 0:
        _spoil(rows, sensors, chance)
    return rows[_kept(number, sensors, chance)]


def _spoil(rows: Floats, sensors: Sensors, chance: np.random.Generator) -> None:
    """Single wild fields of height, speed and g."""
    for column, noise in ((1, 4.0), (2, 0.7), (3, 0.03)):
        wild = np.flatnonzero(chance.random(len(rows)) < sensors.spikes_share)
        off = noise * WILD * chance.uniform(1.0, 3.0, len(wild)) * chance.choice([-1.0, 1.0], len(wild))
        rows[wild, column] += off
    rows[:, 2] = np.maximum(0.0, rows[:, 2])


def _kept(number: int, sensors: Sensors, chance: np.random.Generator) -> NDArray[np.bool_]:
    """Which rows came through: bursts of up to two seconds are lost."""
    kept = np.ones(number, dtype=np.bool_)
    longest = max(1, int(2.0 * sensors.rate_hz))
    while sensors.dropouts_share > 0 and (~kept).mean() < sensors.dropouts_share:
        start = int(chance.integers(0, number))
        kept[start : start + int(chance.integers(1, longest + 1))] = False
    return kept
