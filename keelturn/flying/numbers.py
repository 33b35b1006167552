"""Every number that a figure's legs may name, for one pilot or many: fixed ones, the pilot's, the plan's
settings with the pilot's errors on them, and those that follow from side, speed and weight."""

from collections.abc import Mapping

import numpy as np

from keelturn.air import (
    RHO0,
    cas_from_eas,
    eas_from_cas,
    eas_from_tas,
    standard_pressure,
    tas_from_eas,
    tropospheric_pressure,
)
from keelturn.aircraft.blanks import value_of
from keelturn.figures.catalogue import figure_of
from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.flying.entry import at_the_stall, entry_speed
from keelturn.flying.pilots import FIXED
from keelturn.motion.legs import Floats, Numbers, look_up
from keelturn.units import DEG, KT, SPEED

# Which of the pilot's numbers is the error on which setting.
ERRORS: Mapping[str, str] = {"pull_g": "pull_g", "ease_g": "ease_error_g", "line_deg": "angle_error_deg"}
# Banks in which some figures begin or turn, to the figure's side (common practice, no published source).
BANKS: Mapping[str, float] = {
    "turn_bank_deg": 30.0,
    "steep_bank_deg": 60.0,
    "rolled_under_deg": 70.0,
    "rolled_over_deg": -45.0,
    "over_bank_deg": 75.0,
    "near_side_deg": 65.0,
    "side_90": 90.0,
    "side_180": 180.0,
    "side_360": 360.0,
}
# Seconds that finding the horizon takes after opening the eyes (common practice, no published source).
EYES_CLOSED_S = 0.6


def tas_at(conditions: Conditions, ias: float, height_m: float) -> float:
    """m/s true from the aircraft's indicated speed at this height."""
    pressure = standard_pressure(conditions.air.pressure_height(height_m))
    eas = eas_from_cas(conditions.card.speed_si(ias), pressure)
    return tas_from_eas(eas, conditions.air.density(height_m))


def ias_of(conditions: Conditions, eas: float, height_m: float) -> float:
    """The aircraft's indicated speed from EAS (m/s) at this height."""
    pressure = standard_pressure(conditions.air.pressure_height(height_m))
    return conditions.card.speed_read(cas_from_eas(eas, pressure))


def ias_along(conditions: Conditions, eas: Floats, height_m: Floats) -> Floats:
    """The same for a whole trace, arrays (R,)."""
    pressure = tropospheric_pressure(height_m + conditions.air.pressure_height(0.0))
    return conditions.card.speed_read(cas_from_eas(eas, pressure))


def setting(planned: PlannedFigure, name: str, otherwise: float) -> float:
    """A setting of the plan where the figure has it."""
    return planned.parameter(name) if name in figure_of(planned.key).parameters else otherwise


def flapped(planned: PlannedFigure) -> bool:
    return setting(planned, "flap", 0.0) >= 0.5


def figure_numbers(
    planned: PlannedFigure, conditions: Conditions, pilot: Numbers, start_m: float
) -> dict[str, "float | Floats"]:
    """All of them by name; those of the pilot as arrays (N,) or single numbers, as given."""
    figure = figure_of(planned.key)
    sign = -1.0 if planned.side == "left" else 1.0
    numbers: dict[str, float | Floats] = {
        **FIXED,
        **pilot,
        "throttle_start": setting(planned, "power", figure.throttle),
    }
    numbers["ease_g"] = FIXED["ease_g"] + np.asarray(pilot["ease_error_g"])
    numbers["top_share"] = FIXED["top_share"] + 0.5 * np.asarray(pilot["ease_error_g"])
    numbers["vertical_deg"] = 90.0 + np.asarray(pilot["angle_error_deg"])
    for name in figure.parameters:
        stated = planned.parameter(name)
        numbers[name] = stated + np.asarray(pilot[ERRORS[name]]) if name in ERRORS else stated
    if "pull_g" in figure.parameters:
        rolling = value_of(conditions.card, "limits.rolling_g")
        if flapped(planned):
            rolling = min(rolling, conditions.card.limits.flap_g.value)
        numbers["rolling_pull_g"] = np.minimum(np.asarray(numbers["pull_g"]), rolling)
    for name, bank in BANKS.items():
        numbers[name] = sign * bank
    numbers["bank_to_side_deg"] = sign * setting(planned, "bank_deg", 0.0)
    path = setting(planned, "path_deg", 0.0)
    # On its back it is trimmed there: hanging in the straps.
    numbers["g_before"] = (
        -np.cos(path * DEG) if figure.situation == "inverted" else max(0.5, float(np.cos(path * DEG)))
    )
    numbers["fall_deg"], numbers["tumble_deg"] = -(90.0 + path), -(60.0 + path)
    numbers["delay_s"] = np.asarray(pilot["delay_s"]) + EYES_CLOSED_S * setting(planned, "eyes_closed", 0.0)
    if conditions.card.spool_s is not None:
        numbers["throttle_s"] = np.maximum(np.asarray(pilot["throttle_s"]), conditions.card.spool_s.value)
    full = value_of(conditions.card, "roll.left_deg_s" if planned.side == "left" else "roll.right_deg_s")
    numbers["slow_share"], numbers["barrel_share"] = (
        min(0.95, FIXED[name] / full) for name in ("slow_deg_s", "barrel_deg_s")
    )
    # Power with the nose well down only adds to the dive.
    begins = look_up(figure.begin.path_deg, numbers)
    numbers["recovery_power"] = 0.0 if np.max(begins) < -20.0 else 1.0
    ias = entry_speed(planned, conditions).value
    numbers["entry_ias"] = ias
    numbers["level_power"] = level_power(planned, conditions, ias, start_m)
    return numbers


def level_power(planned: PlannedFigure, conditions: Conditions, ias: float, height_m: float) -> float:
    """Share of full throttle that holds height at this speed."""
    frame = conditions.frame_for(flapped(planned))
    density = conditions.air.density(height_m)
    eas = eas_from_tas(tas_at(conditions, ias, height_m), density)
    return min(1.0, frame.drag(eas) / max(frame.full_thrust(eas, density / RHO0), 1e-6))


def entry_tas(
    planned: PlannedFigure, conditions: Conditions, numbers: Numbers, start_m: float
) -> "float | Floats":
    """TAS (m/s) in which the legs begin. numbers: of figure_numbers; an "entry_tas" given from outside wins;
    near the stall the aircraft sets it."""
    if "entry_tas" in numbers:
        return numbers["entry_tas"]
    ias = float(numbers["entry_ias"])
    tas = tas_at(conditions, ias, start_m)
    if at_the_stall(planned.key):
        return tas
    per_kt = KT / SPEED[conditions.card.speed_unit]
    faster = tas_at(conditions, ias + per_kt, start_m) - tas
    return tas + faster * np.asarray(numbers["speed_error_kt"])
