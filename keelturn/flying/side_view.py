"""A figure seen from the side and out of the window: its path to scale, where the nose points, and the
moments worth a picture."""

from dataclasses import dataclass

import numpy as np

from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.flying.costs import pilot_numbers
from keelturn.flying.course import IN_SPIN, Course, fly
from keelturn.flying.numbers import flapped, ias_along
from keelturn.flying.trace import (
    ALPHA_STALL,
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
# Seconds from the stall into the spin, for the picture only.
FALL_S = 2.0
COLUMNS = (
    "seconds",
    "along_ft",
    "across_ft",
    "height_ft",
    "path_deg",
    "pitch_deg",
    "bank_deg",
    "heading_deg",
    "ias",
    "g",
)


@dataclass(frozen=True, slots=True)
class Moment:
    """words: the part that begins there; at: index of its point."""

    words: str
    at: int


@dataclass(frozen=True, slots=True)
class SideView:
    """points: (P, 10) as COLUMNS: from the gate, along the heading of the entry and to its right, heights on
    QNH, angles in degrees (nose up, right wing down, right turn positive), speed in the aircraft's unit."""

    columns: tuple[str, ...]
    points: tuple[tuple[float, ...], ...]
    moments: tuple[Moment, ...]


def side_view(planned: PlannedFigure, conditions: Conditions) -> SideView:
    """The usual student's figure. Raises ValueError when the card lacks what the figure needs."""
    course = fly(planned, conditions, pilot_numbers("student"), planned.start_ft * FT, trace=True)
    rows = trace_of(course, planned)
    pitch, bank, heading = attitude(rows, conditions.frame_for(flapped(planned)).stall)
    _fall_into_it(rows, pitch, bank)
    keep = _kept(rows[:, LEG], len(rows))
    speeds = ias_along(conditions, rows[:, EAS], rows[:, HEIGHT])
    table = np.stack(
        [
            rows[:, TIME],
            (rows[:, NORTH] - rows[0, NORTH]) / FT,
            (rows[:, EAST] - rows[0, EAST]) / FT,
            rows[:, HEIGHT] / FT,
            rows[:, PATH] / DEG,
            pitch / DEG,
            bank / DEG,
            np.unwrap(heading) / DEG,
            speeds,
            rows[:, G],
        ],
        axis=1,
    )[keep]
    return SideView(
        COLUMNS, tuple(map(tuple, np.round(table, 2).tolist())), _moments(course, rows[:, TIME], keep)
    )


def _fall_into_it(rows: Floats, pitch: Floats, bank: Floats) -> None:
    """A spin's account begins in the spin: over its first seconds the picture goes there from the stall, nose
    high and wings level."""
    if rows[0, LEG] != IN_SPIN:
        return
    share = np.clip(rows[:, TIME] / FALL_S, 0.0, 1.0)
    early = share < 1.0
    pitch[early] = ALPHA_STALL + share[early] * (pitch[early] - ALPHA_STALL)
    bank[early] *= share[early]


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
