"""Over the ground: where the wind takes the sequence, and whether it stays in the block.

Wind carries the aeroplane and its figures alike, so the ground position is the air position plus wind times
time (exact for a steady wind). Each figure is flown into wind along the line of the place; between figures
the aeroplane works to and fro along it, so that climbs only drift. It is begun as far upwind of the middle as
keeps the whole drift even about it, inside the block (common practice, no published source)."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

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
    into, line = conditions.day.wind_from_deg % 360.0, conditions.place.line_deg
    if line is None:
        return into
    return line % 360.0 if math.cos((line - into) * DEG) >= 0 else (line + 180.0) % 360.0


def drift(conditions: Conditions, moved: Sequence[Moved]) -> Drift:
    """From the first figure's gate to the end of the last."""
    heading = along_line(conditions)
    ahead = (math.sin(heading * DEG), math.cos(heading * DEG))
    place: list[tuple[Point, Point]] = []
    east = north = 0.0
    for i, figure in enumerate(moved):
        carried_e, carried_n = _carried(conditions, figure.height_ft, figure.minutes_before if i else 0.0)
        start = (east + carried_e, north + carried_n)
        carried_e, carried_n = _carried(conditions, figure.height_ft, figure.minutes)
        forward = figure.along_m / NM
        east, north = start[0] + carried_e + forward * ahead[0], start[1] + carried_n + forward * ahead[1]
        place.append((start, (east, north)))
    minutes = sum(f.minutes + (f.minutes_before if i else 0.0) for i, f in enumerate(moved))
    radius = conditions.place.radius_nm
    upwind = min(math.hypot(east, north) / 2.0, 0.8 * radius)
    away = math.hypot(east, north)
    shift = (0.0, 0.0) if away < 1e-9 else (-east / away * upwind, -north / away * upwind)
    crossings = tuple(
        _crossing(figure.figure, start, end, shift, radius)
        for figure, (start, end) in zip(moved, place, strict=True)
    )
    wind = given(
        "Wind",
        _wind_over(conditions, moved),
        "kt",
        Source("day", conditions.day.source("winds" if conditions.day.winds else "wind_from_deg")),
    )
    over = worked(
        "Minutes from the first gate to the end of the last figure",
        minutes,
        "min",
        "climbs, lookouts and figures",
    )
    carried = (
        math.hypot(
            *(
                sum(part)
                for part in zip(
                    *(
                        _carried(conditions, f.height_ft, f.minutes + (f.minutes_before if i else 0.0))
                        for i, f in enumerate(moved)
                    ),
                    strict=True,
                )
            )
        )
        if moved
        else 0.0
    )
    total = worked("Drift", carried, "NM", "wind at the height x minutes, added up", wind, over)
    stated = (
        Source("school", f"place: {conditions.place.name}")
        if conditions.place.line_deg is not None
        else Source("day", "into wind")
    )
    return Drift(
        total,
        given("Work along", heading, "°", stated),
        worked(
            "Gained by the figures",
            sum(f.along_m for f in moved) / NM,
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
        else conditions.day.wind_kt
    )


def _crossing(figure: str, start: Point, end: Point, shift: Point, radius: float) -> Crossing:
    begins, ends = (start[0] + shift[0], start[1] + shift[1]), (end[0] + shift[0], end[1] + shift[1])
    away = math.hypot(*ends)
    return Crossing(figure, begins, ends, away, away > radius)


def carried(conditions: Conditions, seconds: Floats, heights_m: Floats) -> Floats:
    """Metres east and north (R, 2) that the wind has carried an aeroplane since the first row, at these
    seconds and heights (R,): the wind at each height, added up over time."""
    wind = np.array([_wind_m_s(conditions, float(height) / FT) for height in heights_m])
    steps = np.diff(seconds)[:, None] * (wind[1:] + wind[:-1]) / 2.0
    return np.vstack([np.zeros((1, 2)), np.cumsum(steps, axis=0)])
