"""Over the ground: where the wind takes the sequence, and whether it stays in the block.

Wind carries the aircraft and its figures alike, so the ground position is the air position plus wind times
time (exact for a steady wind). Each figure is flown into wind along the line of the place; between figures
the aircraft works to and fro along it, so that climbs only drift. It is begun as far upwind of the middle as
keeps the whole drift even about it, inside the block (common practice, no published source)."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from keelturn.flying.conditions import Conditions
from keelturn.motion.legs import Floats
from keelturn.units import DEG, FT, KT, NM
from keelturn.working import Answer, Source, given, worked

Point = tuple[float, float]


@dataclass(frozen=True, slots=True)
class Crossing:
    """One figure over the ground: NM east and north of the middle of the place at its gate and at its end,
    and how far from the middle its end is; outside when that is beyond the radius."""

    figure: str
    start_nm: Point
    end_nm: Point
    from_middle_nm: float
    outside: bool


@dataclass(frozen=True, slots=True)
class Drift:
    """total: over the minutes in the block; work_along: the heading to fly figures on; gained: what the
    figures themselves move against it; begin_upwind: how far upwind of the middle to begin. first_outside: id
    of the first figure that ends outside, or None."""

    total: Answer
    work_along: Answer
    gained: Answer
    begin_upwind: Answer
    crossings: tuple[Crossing, ...]
    first_outside: str | None


@dataclass(frozen=True, slots=True)
class Moved:
    """What a figure does over the ground: its id, minutes before its gate (from the end of the one before)
    and in it, the height it is flown at (ft), metres along its line through the air."""

    figure: str
    minutes_before: float
    minutes: float
    height_ft: float
    along_m: float


def along_line(conditions: Conditions) -> float:
    """True heading along the line of the place, the way that is nearer into wind; straight into wind without
    a line."""
    into, line = conditions.day.wind[0] % 360.0, conditions.place.line_deg
    if line is None:
        return into
    return line % 360.0 if math.cos((line - into) * DEG) >= 0 else (line + 180.0) % 360.0


def drift(conditions: Conditions, moved: Sequence[Moved]) -> Drift:
    """From the first figure's gate to the end of the last."""
    legs = [replace(first, minutes_before=0.0) for first in moved[:1]] + list(moved[1:])
    heading, radius = along_line(conditions), conditions.place.radius_nm
    flown = _flown(conditions, legs, heading)
    east, north = flown[-1][1] if flown else (0.0, 0.0)
    away = math.hypot(east, north)
    upwind = min(away / 2.0, 0.8 * radius)
    shift = (0.0, 0.0) if away < 1e-9 else (-east / away * upwind, -north / away * upwind)
    crossings = tuple(
        _crossing(leg.figure, start, end, shift, radius)
        for leg, (start, end) in zip(legs, flown, strict=True)
    )
    total = _total(conditions, legs)
    return Drift(
        total,
        given("Work along", heading, "°", _line_source(conditions)),
        worked(
            "Gained by the figures",
            sum(leg.along_m for leg in legs) / NM,
            "NM",
            "what each figure moves along its line through the air",
        ),
        worked(
            "Begin upwind of the middle",
            upwind,
            "NM",
            "half of the way from the first gate to the end, at most 0.8 of the radius",
            total,
        ),
        crossings,
        next((c.figure for c in crossings if c.outside), None),
    )


def _flown(conditions: Conditions, legs: Sequence[Moved], heading: float) -> list[tuple[Point, Point]]:
    """Where each figure begins and ends, NM east and north of where the first began."""
    ahead = (math.sin(heading * DEG), math.cos(heading * DEG))
    found: list[tuple[Point, Point]] = []
    east = north = 0.0
    for leg in legs:
        before_e, before_n = _carried(conditions, leg.height_ft, leg.minutes_before)
        start = (east + before_e, north + before_n)
        in_it_e, in_it_n = _carried(conditions, leg.height_ft, leg.minutes)
        forward = leg.along_m / NM
        east, north = start[0] + in_it_e + forward * ahead[0], start[1] + in_it_n + forward * ahead[1]
        found.append((start, (east, north)))
    return found


def _total(conditions: Conditions, legs: Sequence[Moved]) -> Answer:
    """What the wind carries in all."""
    minutes = sum(leg.minutes_before + leg.minutes for leg in legs)
    parts = [_carried(conditions, leg.height_ft, leg.minutes_before + leg.minutes) for leg in legs]
    source = Source("day", conditions.day.source("winds" if conditions.day.winds else "wind_from_deg"))
    wind = given("Wind", _wind_over(conditions, legs), "kt", source)
    over = worked(
        "Minutes from the first gate to the end of the last figure",
        minutes,
        "min",
        "climbs, lookouts and figures",
    )
    carried_nm = math.hypot(sum(east for east, _ in parts), sum(north for _, north in parts))
    return worked("Drift", carried_nm, "NM", "wind at the height x minutes, added up", wind, over)


def _line_source(conditions: Conditions) -> Source:
    if conditions.place.line_deg is None:
        return Source("day", "into wind")
    return Source("school", f"place: {conditions.place.name}")


def _wind_m_s(conditions: Conditions, height_ft: float) -> Point:
    """Where the wind at this height carries to, east and north, m/s."""
    from_deg, kt = conditions.wind_at(height_ft)
    to = (from_deg + 180.0) * DEG
    return kt * KT * math.sin(to), kt * KT * math.cos(to)


def _carried(conditions: Conditions, height_ft: float, minutes: float) -> Point:
    """NM east and north in these minutes at this height."""
    east, north = _wind_m_s(conditions, height_ft)
    return east * minutes * 60.0 / NM, north * minutes * 60.0 / NM


def _wind_over(conditions: Conditions, moved: Sequence[Moved]) -> float:
    return (
        sum(conditions.wind_at(f.height_ft)[1] for f in moved) / len(moved)
        if moved
        else conditions.day.wind[1]
    )


def _crossing(figure: str, start: Point, end: Point, shift: Point, radius: float) -> Crossing:
    begins, ends = (start[0] + shift[0], start[1] + shift[1]), (end[0] + shift[0], end[1] + shift[1])
    away = math.hypot(*ends)
    return Crossing(figure, begins, ends, away, away > radius)


def carried(conditions: Conditions, seconds: Floats, heights_m: Floats) -> Floats:
    """Metres east and north (R, 2) that the wind has carried an aircraft since the first row, at these
    seconds and heights (R,): the wind at each height, added up over time."""
    wind = np.array([_wind_m_s(conditions, float(height) / FT) for height in heights_m])
    steps = np.diff(seconds)[:, None] * (wind[1:] + wind[:-1]) / 2.0
    return np.vstack([np.zeros((1, 2)), np.cumsum(steps, axis=0)])
