"""The shape that a roll, a loop or a line was given, and that of the same figure as it is meant.

How still a line is, how steep, and what counts as an arc are common practice, no published source. Angles are
of the nose, not of the path: that is what a recorder and a judge see."""

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from keelturn.air import RHO0
from keelturn.figures.catalogue import figure_of
from keelturn.figures.figure import Family
from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.flying.costs import pilot_numbers
from keelturn.flying.course import fly
from keelturn.flying.trace import trace_of
from keelturn.motion.legs import Floats
from keelturn.recording.flown import Flown, mean, slope, stretches
from keelturn.recording.likeness import as_recorded
from keelturn.recording.live import ROLLING_DEG_S
from keelturn.units import DEG, FT, KT

FAMILIES = (Family.ROLLS, Family.LOOPING, Family.LINES)
# A roll that came less far round is none whose quarters are looked at.
WHOLE_DEG = 330.0
# The nose's own movement is the slope over so long (s).
PITCHING_S = 0.8
# Between two rows it may have rolled or pitched so far at most: else nobody knows which way.
COARSEST_DEG = 60.0
# A line is steeper than this, changes by less than this (deg/s), and lasts so long (s).
STEEP_DEG, STILL_DEG_S, LEAST_LINE_S = 25.0, 7.0, 0.8
# What is steeper than this was meant to be vertical.
VERTICAL_DEG = 70.0
# The nose stands so far off the path without lift: no more than this over is not past the vertical.
OVER_DEG = 2.0
LINES = ("Line up", "Line down")
# In an arc the nose moves at least so fast (deg/s); a quarter of which less than this was flown has no
# radius.
ARC_DEG_S, LEAST_ARC_DEG = 8.0, 40.0
# The first pull has begun at this g; the bank there is the mean over so long (s).
PULLING_G, ABOUT_S = 1.3, 0.4


@dataclass(frozen=True, slots=True)
class LineFlown:
    """angle_deg: of the nose above the horizon, beyond 90 where it went over the vertical; past_vertical:
    so far over that it is said; at_s: on the recording's clock."""

    angle_deg: float
    past_vertical: bool
    seconds: float
    at_s: float


@dataclass(frozen=True, slots=True)
class Shape:
    """nose_deg: of a whole roll, the nose above the horizon where it begins and after each of its quarters;
    empty for others. radii_ft: of the arcs in each quarter of a loop, up, over, down and round; None for a
    quarter that was not flown. lines: in their order. top_off_deg: heading at the top of a loop, against the
    one in (to the right positive), where nothing rolled before it. first_bank_deg: where the first pull
    begins. roundness: the tightest quarter's radius as a share of the widest, 1 is a circle; None where fewer
    than all four were flown."""

    nose_deg: tuple[float, ...]
    radii_ft: tuple[float | None, ...]
    lines: tuple[LineFlown, ...]
    top_off_deg: float | None
    first_bank_deg: float | None
    roundness: float | None


def shape_of(figure: PlannedFigure, flown: Flown, conditions: Conditions) -> Shape | None:
    """None for figures that have none, and where speed, g or attitude were not recorded, or too seldom."""
    whole = figure_of(figure.key)
    family = whole.family
    if family not in FAMILIES or not flown.has_attitude or len(flown.time) < 3:
        return None
    if not (np.isfinite(flown.ias).all() and np.isfinite(flown.g).all()):
        return None
    over = np.diff(flown.time)
    angle = nose_in_loop(flown)
    if max(np.abs(flown.rolling[1:] * over).max(), np.median(over) * ROLLING_DEG_S) > COARSEST_DEG:
        return None
    looping = family == Family.LOOPING
    radii = tuple(_radii(flown, angle, conditions)) if looping else ()
    known = [radius for radius in radii if radius is not None]
    return Shape(
        tuple(_quarters(flown)) if family == Family.ROLLS else (),
        radii,
        tuple(_lines(flown, angle)) if any(leg.part in LINES for leg in whole.legs) else (),
        _top_off(flown, angle) if looping else None,
        _first_bank(flown),
        min(known) / max(known) if len(known) == 4 else None,
    )


def meant(figure: PlannedFigure, conditions: Conditions) -> Shape | None:
    """The shape of the figure as planned, flown by the usual student."""
    if figure_of(figure.key).family not in FAMILIES:
        return None
    course = fly(figure, conditions, pilot_numbers("student"), figure.start_ft * FT, trace=True)
    return shape_of(figure, as_recorded(trace_of(course), conditions), conditions)


def nose_in_loop(flown: Flown) -> Floats:
    """Where the nose stands in its own vertical plane, (R,), deg: 0 level, 90 up, 180 level on its back, 270
    down; it goes on counting, and a roll on a line turns it over."""
    upright = np.cos(flown.bank * DEG) >= 0.0
    return np.unwrap(np.where(upright, flown.pitch, 180.0 - flown.pitch), period=360.0)


def _quarters(flown: Flown) -> Iterator[float]:
    rolled = np.unwrap(flown.bank, period=360.0)
    rolled = np.abs(rolled - rolled[0])
    if rolled.max() < WHOLE_DEG:
        return
    begins = int(np.argmax(np.abs(flown.rolling) > ROLLING_DEG_S))
    yield float(flown.pitch[begins])
    for quarter in (90.0, 180.0, 270.0, WHOLE_DEG):
        yield float(flown.pitch[int(np.argmax(rolled >= quarter))])


def _pitching(flown: Flown, angle: Floats) -> Floats:
    """How fast the nose moves in its own plane, deg/s; what a roll turns over is none of it."""
    steps = np.diff(angle, prepend=angle[0])
    turned_over = np.abs(np.diff(np.cos(flown.bank * DEG) >= 0.0, prepend=False).astype(float)) > 0.0
    turned_over[0] = False
    smooth = np.cumsum(np.where(turned_over, 0.0, steps))
    return slope(flown.time, smooth, PITCHING_S)


def _radii(flown: Flown, angle: Floats, conditions: Conditions) -> Iterator[float | None]:
    """True speed over how fast the nose goes round, where nothing rolls."""
    over = np.diff(flown.time, prepend=flown.time[0])
    sigma = conditions.air.density(float(flown.height.mean()) * FT) / RHO0
    gone = flown.ias * KT / FT / np.sqrt(sigma) * over
    round_deg = np.abs(_pitching(flown, angle))
    arc = (np.abs(flown.rolling) < ROLLING_DEG_S) & (round_deg > ARC_DEG_S)
    at = angle % 360.0
    for quarter in range(4):
        here = arc & (at // 90.0 == quarter)
        swept = float((round_deg * over)[here].sum())
        yield float(gone[here].sum()) / (swept * DEG) if swept >= LEAST_ARC_DEG else None


def _lines(flown: Flown, angle: Floats) -> Iterator[LineFlown]:
    still = (np.abs(_pitching(flown, angle)) < STILL_DEG_S) & (np.abs(flown.pitch) > STEEP_DEG)
    for first, last in stretches(still):
        seconds = float(flown.time[last] - flown.time[first])
        if seconds >= LEAST_LINE_S:
            held = float(np.median(flown.pitch[first : last + 1]))
            past = np.cos(np.median(angle[first : last + 1]) * DEG) < 0.0
            if past and abs(held) > VERTICAL_DEG:
                held = float(np.copysign(180.0, held)) - held
            yield LineFlown(held, abs(held) > 90.0 + OVER_DEG, seconds, float(flown.time[first]))


def _top_off(flown: Flown, angle: Floats) -> float | None:
    over_the_top = np.flatnonzero((angle >= 180.0) & (np.abs(flown.pitch) < STEEP_DEG))
    if not len(over_the_top):
        return None
    at = int(over_the_top[0])
    if (np.abs(flown.rolling[:at]) > ROLLING_DEG_S).any():
        return None
    return float((flown.heading[at] + 180.0 - flown.heading[0] + 180.0) % 360.0 - 180.0)


def _first_bank(flown: Flown) -> float | None:
    pulling = np.flatnonzero(mean(flown.time, flown.g) > PULLING_G)
    if not len(pulling):
        return None
    about = np.abs(flown.time - flown.time[pulling[0]]) <= ABOUT_S / 2.0
    return float(flown.bank[about].mean())
