"""How like a stretch of flight is to a figure: both as the same few numbers, the figure's from the core's own
flight of it in this aircraft.

A figure is known by the way its nose and wings go round, taken at even shares of all its turning, so that
a slow pilot's loop is a loop; by how much it rolls, turns and takes; by g, speed and height. So a figure that
is added to the catalogue is found by what it is. Widths are ours, set on one half of the simulated flights
and held by the other (docs/model.md)."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from threading import Lock

import numpy as np
from cachetools import LRUCache, cached

from keelturn.figures.catalogue import FIGURES, figure_of
from keelturn.figures.figure import Side
from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.flying.costs import pilot_numbers
from keelturn.flying.course import fly
from keelturn.flying.numbers import ias_along
from keelturn.flying.trace import EAS, HEIGHT, TIME, G, attitude, trace_of
from keelturn.motion.legs import Floats
from keelturn.recording.flown import Flown, slope
from keelturn.units import DEG, FT, KT, SPEED

# Shares of the whole at which attitude and height are taken.
POINTS = 13
# Less roll than this is none that goes on or stops.
A_ROLL_DEG = 60.0
# While nothing turns, time goes on: this much (deg/s) counts as turning; less than the other is noise.
IDLE_DEG_S, NOISE_DEG_S = 4.0, 6.0
# Numbers of a likeness by group: how many, how wide each is (in its own unit), and what the group counts.
GROUPS: dict[str, tuple[int, float, float]] = {
    "nose": (POINTS, 0.22, 6.0),
    "wings": (POINTS, 0.30, 5.0),
    "head": (POINTS, 0.30, 5.0),
    "profile_ft": (POINTS, 130.0, 2.0),
    "roll_done": (POINTS, 0.10, 2.0),
    "log_turning": (1, 0.25, 3.0),
    "log_seconds": (1, 0.45, 1.5),
    "round_deg": (1, 150.0, 2.0),
    "rolled_deg": (1, 70.0, 2.5),
    "most_g": (1, 0.7, 1.0),
    "least_g": (1, 0.5, 1.5),
    "slowest_vs": (1, 0.25, 1.0),
    "fastest_vs": (1, 0.35, 0.7),
}
# How far off one number can count at most, in widths squared.
MOST_OFF = 9.0
WIDTHS = np.concatenate([np.full(many, wide) for many, wide, _ in GROUPS.values()])
COUNTS = np.concatenate([np.full(many, counts / many) for many, _, counts in GROUPS.values()])
SIDED = np.concatenate(
    [
        np.full(many, -1.0 if name in ("wings", "round_deg", "rolled_deg") else 1.0)
        for name, (many, *_) in GROUPS.items()
    ]
)


@dataclass(frozen=True, slots=True)
class Turning:
    """A whole flight prepared, arrays (R,): components of nose, right wing and head upwards, and sums since
    the beginning of all turning, turning round the vertical, roll, and roll to either side (deg)."""

    nose: Floats
    wings: Floats
    head: Floats
    turned: Floats
    round: Floats
    rolled: Floats
    either: Floats

    @classmethod
    def of(cls, flown: Flown) -> "Turning":
        pitch, bank = flown.pitch * DEG, flown.bank * DEG
        steps = np.diff(flown.time, prepend=flown.time[:1])
        # Turning about nose and vertical is nearly all there is of it but the pull, which moves the nose.
        pitching = slope(flown.time, flown.pitch)
        rate = np.sqrt(flown.rolling**2 + flown.turning**2 + pitching**2)
        turned = np.cumsum((np.maximum(rate - NOISE_DEG_S, 0.0) + IDLE_DEG_S) * steps)
        # On a vertical line roll and turn are one: roll is what is flown near level.
        rolling = flown.rolling * np.cos(pitch) ** 2
        either = np.cumsum(np.maximum(np.abs(rolling) - NOISE_DEG_S, 0.0) * steps)
        return cls(
            np.sin(pitch),
            -np.sin(bank) * np.cos(pitch),
            np.cos(bank) * np.cos(pitch),
            turned,
            np.cumsum(flown.turning * steps),
            np.cumsum(rolling * steps),
            either,
        )


def likeness(flown: Flown, turning: Turning, first: int, last: int, stall_kt: float) -> Floats:
    """The numbers of GROUPS, in that order, of rows first to last; nan for what was not recorded. stall_kt:
    indicated, as the recorded speed."""
    rows = slice(first, last + 1)
    seconds = flown.time[last] - flown.time[first]
    evenly = np.linspace(flown.time[first], flown.time[last], POINTS)
    profile = np.interp(evenly, flown.time[rows], flown.height[rows])
    either = np.interp(evenly, flown.time[rows], turning.either[rows] - turning.either[first])
    turned = turning.turned[rows] - turning.turned[first]
    if np.isfinite(turned).all():
        at = np.linspace(0.0, turned[-1], POINTS)
        attitudes = [np.interp(at, turned, one[rows]) for one in (turning.nose, turning.wings, turning.head)]
    else:
        attitudes = [np.full(POINTS, np.nan)] * 3
    g, speed = flown.g[rows], flown.ias[rows] / stall_kt
    return np.concatenate(
        [
            *attitudes,
            profile - profile[0],
            either / (either[-1] + A_ROLL_DEG),
            [
                np.log(turned[-1] + 60.0),
                np.log(seconds + 3.0),
                turning.round[last] - turning.round[first],
                turning.rolled[last] - turning.rolled[first],
                g.max(),
                g.min(),
                speed.min(),
                speed.max(),
            ],
        ]
    )


def off(one: Floats, others: Floats) -> Floats:
    """How far from each of the others (N, numbers): (N,); 0 is alike. What was not recorded does not
    count."""
    apart = np.square((others - one) / WIDTHS)
    known = np.isfinite(apart)
    counted = np.where(known, np.minimum(apart, MOST_OFF), 0.0) * COUNTS
    # What is known speaks for all of it.
    weight = (known * COUNTS).sum(axis=1)
    return np.asarray(counted.sum(axis=1) / np.maximum(weight, 1e-9) * COUNTS.sum())


@dataclass(frozen=True, slots=True)
class Template:
    """A figure as it is flown here. planned: its settings; entry: speed (kt), pitch and bank in which it
    begins. off_plan: whether it is flown otherwise than planned."""

    planned: PlannedFigure
    numbers: Floats
    entry: tuple[float, float, float]
    off_plan: bool = False

    @property
    def key(self) -> str:
        return self.planned.key


# Names that differ by a setting are looked for at these.
TRIED = {"turns": (0.5, 1.0, 2.0, 3.0), "bank_deg": (45.0, 60.0)}
STEP_S = 0.1


def template(
    planned: PlannedFigure,
    conditions: Conditions,
    habits: Mapping[str, float] | None = None,
    off_plan: bool = False,
) -> Template | None:
    """As the usual student with these habits flies it; None for what this aircraft cannot fly or its card
    does not tell enough of."""
    pilot = pilot_numbers("student", **(habits or {}))
    try:
        course = fly(planned, conditions, pilot, planned.start_ft * FT, trace=True)
    except ValueError:
        return None
    flown = as_recorded(trace_of(course), conditions)
    numbers = likeness(flown, Turning.of(flown), 0, len(flown.time) - 1, stall_kt(conditions))
    return Template(
        planned, numbers, (float(flown.ias[0]), float(flown.pitch[0]), float(flown.bank[0])), off_plan
    )


def as_recorded(rows: Floats, conditions: Conditions) -> Flown:
    """The core's own flight (R, flying.trace.COLUMNS) as a recorder without faults would have it, every
    STEP_S; its speed in kt."""
    time = np.arange(0.0, rows[-1, TIME] + STEP_S, STEP_S)
    pitch, bank, heading = attitude(rows, conditions.frame.stall)
    fresh = np.diff(rows[:, TIME], prepend=-np.inf) > 1e-6
    at = rows[fresh, TIME]

    def sampled(values: Floats) -> Floats:
        return np.asarray(np.interp(time, at, values[fresh]))

    ias = _knots(conditions, rows[:, EAS], rows[:, HEIGHT])
    angles = [np.degrees(sampled(np.unwrap(angle))) for angle in (pitch, bank, heading)]
    return Flown.of(time, sampled(rows[:, HEIGHT]) / FT, sampled(ias), sampled(rows[:, G]), *angles)


def mirrored(known: Template) -> Template:
    """The same to the other side."""
    side: Side = "left" if known.planned.side == "right" else "right"
    speed, pitch, bank = known.entry
    planned = known.planned.model_copy(update={"side": side})
    return Template(planned, known.numbers * SIDED, (speed, pitch, -bank), known.off_plan)


def stall_kt(conditions: Conditions) -> float:
    """Today's indicated stall speed near sea level."""
    return float(_knots(conditions, np.array([conditions.frame.stall]), np.array([0.0]))[0])


def _knots(conditions: Conditions, eas: Floats, height_m: Floats) -> Floats:
    return np.asarray(ias_along(conditions, eas, height_m) * SPEED[conditions.card.speed_unit] / KT)


def _alike(conditions: Conditions, start_ft: float) -> object:
    return conditions.exactly, start_ft


@cached(LRUCache(16), key=_alike, lock=Lock())
def catalogue(conditions: Conditions, start_ft: float) -> tuple[Template, ...]:
    """Every figure to both sides, at each of the settings that give it another name."""
    found: list[Template] = []
    for figure in FIGURES:
        tried = next((name for name in TRIED if name in figure.parameters), None)
        settings: Sequence[dict[str, float]] = (
            [{tried: value} for value in TRIED[tried]] if tried and figure.titled else [{}]
        )
        for chosen in settings:
            planned = PlannedFigure(
                id=figure.key, key=figure.key, side="right", start_ft=start_ft, parameters=chosen
            )
            known = template(planned, conditions)
            if known is not None:
                found += [known, mirrored(known)] if figure.has_sides else [known]
    return tuple(found)


def of_plan(planned: PlannedFigure, conditions: Conditions) -> tuple[Template, ...]:
    """A planned figure as it may be flown: with its own settings, a spin with half a turn and one turn more
    too, and to the other side; and with each of its faults that stands for a number."""
    return _as_it_may_be(
        planned.model_copy(update={"id": "planned", "start_ft": round(planned.start_ft, -3)}), conditions
    )


def _asked(planned: PlannedFigure, conditions: Conditions) -> object:
    return conditions.exactly, planned.as_flown, planned.start_ft


@cached(LRUCache(256), key=_asked, lock=Lock())
def _as_it_may_be(planned: PlannedFigure, conditions: Conditions) -> tuple[Template, ...]:
    figure = figure_of(planned.key)
    settings = [planned]
    if "turns" in figure.parameters:
        most = figure.parameters["turns"].most
        settings += [
            planned.model_copy(update={"parameters": {**planned.parameters, "turns": turns}})
            for more in (0.5, 1.0)
            if (turns := planned.parameter("turns") + more) <= most
        ]
    late = [template(each, conditions, off_plan=True) for each in settings[1:]]
    at_fault = [
        template(planned, conditions, fault.numbers, off_plan=True)
        for fault in figure.faults
        if fault.numbers
    ]
    known = [one for one in (template(planned, conditions), *late, *at_fault) if one is not None]
    return (*known, *(mirrored(one) for one in known)) if figure.has_sides else tuple(known)
