"""A figure seen from the side and out of the window: its path to scale, where the nose points, and the
moments worth a picture."""

from dataclasses import dataclass

import numpy as np

from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.flying.costs import pilot_numbers
from keelturn.flying.course import fly
from keelturn.flying.numbers import flapped, ias_along
from keelturn.flying.parts import Course
from keelturn.flying.trace import (
    EAS,
    EAST,
    HEIGHT,
    LEG,
    NORTH,
    PATH,
    TIME,
    G,
    attitude,
    trace_of,
)
from keelturn.motion.legs import Floats
from keelturn.units import DEG, FT

MOST_POINTS, MOST_MOMENTS = 160, 6


@dataclass(frozen=True, slots=True)
class Moment:
    """words: the part that begins there; at: index of its point."""

    words: str
    at: int


@dataclass(frozen=True, slots=True)
class SideView:
    """Points (P,) of the path, column by column: from the gate, along the heading of the entry and to its
    right, heights on QNH, angles in degrees (nose up, right wing down, right turn positive), speed in the
    aircraft's unit."""

    seconds: tuple[float, ...]
    along_ft: tuple[float, ...]
    across_ft: tuple[float, ...]
    height_ft: tuple[float, ...]
    path_deg: tuple[float, ...]
    pitch_deg: tuple[float, ...]
    bank_deg: tuple[float, ...]
    heading_deg: tuple[float, ...]
    ias: tuple[float, ...]
    g: tuple[float, ...]
    moments: tuple[Moment, ...]


def side_view(planned: PlannedFigure, conditions: Conditions) -> SideView:
    """The usual student's figure. Raises ValueError when the card lacks what the figure needs."""
    course = fly(planned, conditions, pilot_numbers("student"), planned.start_ft * FT, trace=True)
    rows = trace_of(course)
    pitch, bank, heading = attitude(rows, conditions.frame_for(flapped(planned)).stall)
    keep = _kept(rows[:, LEG], len(rows))

    def shown(column: Floats) -> tuple[float, ...]:
        return tuple(np.round(column[keep], 2).tolist())

    return SideView(
        seconds=shown(rows[:, TIME]),
        along_ft=shown((rows[:, NORTH] - rows[0, NORTH]) / FT),
        across_ft=shown((rows[:, EAST] - rows[0, EAST]) / FT),
        height_ft=shown(rows[:, HEIGHT] / FT),
        path_deg=shown(rows[:, PATH] / DEG),
        pitch_deg=shown(pitch / DEG),
        bank_deg=shown(bank / DEG),
        heading_deg=shown(np.unwrap(heading) / DEG),
        ias=shown(ias_along(conditions, rows[:, EAS], rows[:, HEIGHT])),
        g=shown(rows[:, G]),
        moments=_moments(course, rows[:, TIME], keep),
    )


def _kept(legs: Floats, rows: int) -> list[int]:
    """Rows thinned to the most that a picture needs, with every row where a part begins, the first and the
    last."""
    begins = np.flatnonzero(np.diff(legs) != 0) + 1
    return sorted({0, rows - 1, *begins.tolist(), *range(0, rows, max(1, rows // MOST_POINTS))})


def _moments(course: Course, times: Floats, keep: list[int]) -> tuple[Moment, ...]:
    """Where each part of the account begins, one for parts of the same name that follow each other, and the
    end; at most six, evenly chosen."""
    clock, found = 0.0, [("Gate", 0.0)]
    for i, part in enumerate(course.parts):
        seconds = float(np.ravel(part.seconds)[0])
        if seconds > 1e-6:
            if i and clock > 1e-6 and part.name != found[-1][0]:
                found.append((part.name, clock))
            clock += seconds
    found.append(("End", clock))
    if len(found) > MOST_MOMENTS:
        found = [found[round(i * (len(found) - 1) / (MOST_MOMENTS - 1))] for i in range(MOST_MOMENTS)]
    kept = times[keep]
    begins = [
        Moment(name, min(len(keep) - 1, int(np.searchsorted(kept, at - 1e-6)))) for name, at in found[:-1]
    ]
    return (*begins, Moment("End", len(keep) - 1))
