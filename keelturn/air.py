"""The day's air: standard atmosphere, density, and the airspeeds.

Source: ICAO Doc 7488/3 (standard atmosphere), constants from its table A; airspeed relations from subsonic
compressible flow (isentropic relation). Heights are geopotential, which below 20,000 ft differs from true
height by less than 0.1 %."""

import math
from dataclasses import dataclass
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

from keelturn.units import G0

Number = TypeVar("Number", float, NDArray[np.float64])

P0 = 101325.0
T0 = 288.15
RHO0 = 1.225
R_AIR = 287.05287
LAPSE = 0.0065
GAMMA = 1.4
PRESSURE_POWER = G0 / (LAPSE * R_AIR)
TROPOPAUSE_M = 11000.0
A0 = math.sqrt(GAMMA * R_AIR * T0)


def tropospheric_pressure(height_m: Number) -> Number:
    """Pressure (Pa) in the standard atmosphere, -5 to 11 km; number or array. Doc 7488 section 2."""
    pressure: Number = P0 * (1.0 - LAPSE * height_m / T0) ** PRESSURE_POWER
    return pressure


def standard_pressure(height_m: float) -> float:
    """Pressure (Pa) in the standard atmosphere, -5 to 20 km. Doc 7488 section 2."""
    if height_m <= TROPOPAUSE_M:
        return tropospheric_pressure(height_m)
    at_tropopause = P0 * (1.0 - LAPSE * TROPOPAUSE_M / T0) ** PRESSURE_POWER
    return float(
        at_tropopause * math.exp(-G0 * (height_m - TROPOPAUSE_M) / (R_AIR * (T0 - LAPSE * TROPOPAUSE_M)))
    )


def pressure_height(pressure_pa: float) -> float:
    """Height (m) in the standard troposphere where this pressure stands."""
    return float(T0 / LAPSE * (1.0 - (pressure_pa / P0) ** (1.0 / PRESSURE_POWER)))


@dataclass(frozen=True, slots=True)
class DayAir:
    """The air of the day. `height` below is what an altimeter on QNH reads.

    qnh_pa: pressure setting; temperature_k at field_m (the field's elevation). Temperature falls by the
    standard lapse from there. The altimeter's own temperature error is left out (docs/model.md)."""

    qnh_pa: float = P0
    temperature_k: float = T0
    field_m: float = 0.0

    def pressure_height(self, height_m: float) -> float:
        return height_m + pressure_height(self.qnh_pa)

    def temperature(self, height_m: float) -> float:
        return self.temperature_k - LAPSE * (height_m - self.field_m)

    def density(self, height_m: float) -> float:
        """kg/m3 at this altimeter height, by the gas law."""
        return standard_pressure(self.pressure_height(height_m)) / (R_AIR * self.temperature(height_m))

    def density_height(self, height_m: float) -> float:
        """Height (m) in the standard troposphere that has this density."""
        ratio = self.density(height_m) / RHO0
        return float(T0 / LAPSE * (1.0 - ratio ** (1.0 / (PRESSURE_POWER - 1.0))))


def tas_from_eas(eas: float, density: float) -> float:
    return eas * math.sqrt(RHO0 / density)


def eas_from_tas(tas: float, density: float) -> float:
    return tas * math.sqrt(density / RHO0)


def _impact_ratio(mach_squared: Number) -> Number:
    ratio: Number = (1.0 + (GAMMA - 1.0) / 2.0 * mach_squared) ** (GAMMA / (GAMMA - 1.0)) - 1.0
    return ratio


def cas_from_eas(eas: Number, pressure_pa: Number) -> Number:
    """Calibrated from equivalent airspeed (m/s, number or array) at this static pressure; subsonic
    compressible flow."""
    impact_pa = pressure_pa * _impact_ratio((eas / A0) ** 2 * P0 / pressure_pa)
    cas: Number = (
        A0 * (2.0 / (GAMMA - 1.0) * ((impact_pa / P0 + 1.0) ** ((GAMMA - 1.0) / GAMMA) - 1.0)) ** 0.5
    )
    return cas


def eas_from_cas(cas: float, pressure_pa: float) -> float:
    """Equivalent from calibrated airspeed (m/s) at this static pressure; the inverse of `cas_from_eas`."""
    impact_pa = P0 * _impact_ratio((cas / A0) ** 2)
    mach_squared = 2.0 / (GAMMA - 1.0) * ((impact_pa / pressure_pa + 1.0) ** ((GAMMA - 1.0) / GAMMA) - 1.0)
    return float(A0 * math.sqrt(mach_squared * pressure_pa / P0))
