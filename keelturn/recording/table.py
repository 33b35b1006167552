"""One flight as columns over time: what every part of reading, cleaning, finding and measuring works on."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from enum import StrEnum
from types import MappingProxyType

import numpy as np
from numpy.typing import NDArray

from keelturn.motion.legs import Floats
from keelturn.units import DEG, FT, G0, KT, MPH


class Column(StrEnum):
    """What a recorder may write. The value is the column's name in our own table, with its unit; left, back
    and nose down are negative, but the elevator, whose back is positive."""

    TIME = "time_s"
    PRESSURE_HEIGHT = "pressure_height_ft"
    HEIGHT = "height_ft"
    IAS = "ias_kt"
    G = "g"
    PITCH = "pitch_deg"
    BANK = "bank_deg"
    HEADING = "heading_deg"
    THROTTLE = "throttle_share"
    AILERON = "aileron_share"
    RUDDER = "rudder_share"
    ELEVATOR = "elevator_share"
    FLAP = "flap_share"
    LATITUDE = "latitude_deg"
    LONGITUDE = "longitude_deg"
    GROUND_SPEED = "ground_speed_kt"


ATTITUDE = (Column.PITCH, Column.BANK, Column.HEADING)
CONTROLS = (Column.THROTTLE, Column.AILERON, Column.RUDDER, Column.ELEVATOR)


@dataclass(frozen=True, slots=True)
class Quantity:
    """What a column holds. units: what it may be written in, with what that is in the column's own unit (the
    first). Beyond least and most, in its own unit, no sensor has measured anything."""

    label: str
    units: Mapping[str, float]
    least: float
    most: float


_FEET = {"ft": 1.0, "m": 1.0 / FT}
_SPEEDS = {"kt": 1.0, "mph": MPH / KT, "km/h": 1000.0 / 3600.0 / KT, "m/s": 1.0 / KT}
_ANGLES = {"deg": 1.0, "rad": 1.0 / DEG}
_SHARES = {"share": 1.0, "%": 0.01}
# Seconds as a number, or a text that is read as a time.
CLOCK, DATE_AND_TIME = "clock", "date and time"
_TIMES = {"s": 1.0, "ms": 0.001, "min": 60.0, CLOCK: 1.0, DATE_AND_TIME: 1.0}

QUANTITIES: Mapping[Column, Quantity] = MappingProxyType(
    {
        Column.TIME: Quantity("Time", _TIMES, -1e11, 1e11),
        Column.PRESSURE_HEIGHT: Quantity("Pressure height", _FEET, -2000.0, 60000.0),
        Column.HEIGHT: Quantity("Height on QNH, or by satellite", _FEET, -2000.0, 60000.0),
        Column.IAS: Quantity("Indicated speed", _SPEEDS, 0.0, 600.0),
        Column.G: Quantity("g", {"g": 1.0, "m/s2": 1.0 / G0}, -15.0, 20.0),
        Column.PITCH: Quantity("Pitch", _ANGLES, -90.5, 90.5),
        Column.BANK: Quantity("Bank", _ANGLES, -360.5, 360.5),
        Column.HEADING: Quantity("Heading", _ANGLES, -360.5, 360.5),
        Column.THROTTLE: Quantity("Throttle", _SHARES, -0.1, 1.1),
        Column.AILERON: Quantity("Aileron", _SHARES, -1.1, 1.1),
        Column.RUDDER: Quantity("Rudder", _SHARES, -1.1, 1.1),
        Column.ELEVATOR: Quantity("Elevator", _SHARES, -1.1, 1.1),
        Column.FLAP: Quantity("Flap", _SHARES, -0.1, 1.1),
        Column.LATITUDE: Quantity("Latitude", {"deg": 1.0}, -90.0, 90.0),
        Column.LONGITUDE: Quantity("Longitude", {"deg": 1.0}, -180.0, 180.0),
        Column.GROUND_SPEED: Quantity("Speed over the ground", _SPEEDS, 0.0, 700.0),
    }
)


@dataclass(frozen=True, slots=True)
class Recording:
    """columns: arrays (R,) in their own units, nan where nothing was written; the time ascends strictly.
    zero: the moment of second 0 in UTC, where the recorder says which day; of_day: whether seconds count from
    a midnight."""

    columns: Mapping[Column, Floats]
    zero: datetime | None = None
    of_day: bool = False

    def __len__(self) -> int:
        return len(self.columns[Column.TIME])

    @property
    def time(self) -> Floats:
        return self.columns[Column.TIME]

    @property
    def first_at(self) -> datetime | None:
        """When its first row was, in UTC; None where the recorder does not say."""
        return None if self.zero is None else self.zero + timedelta(seconds=float(self.time[0]))

    @property
    def rate_hz(self) -> float:
        """Rows a second, by the middle of the steps."""
        return 1.0 / float(np.median(np.diff(self.time))) if len(self) > 1 else 0.0

    def has(self, *columns: Column) -> bool:
        return all(column in self.columns for column in columns)

    def rows(self, chosen: "slice | NDArray[np.bool_]") -> "Recording":
        """The same with these rows only."""
        return replace(self, columns={name: values[chosen] for name, values in self.columns.items()})

    def with_columns(self, changed: Mapping[Column, Floats]) -> "Recording":
        return replace(self, columns={**self.columns, **changed})
