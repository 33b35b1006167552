"""What the page for the flight needs while there is no server: tables to look up and lines not to cross, made
beforehand."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import timedelta
from typing import Literal

import numpy as np

from keelturn.aircraft.blanks import known
from keelturn.aircraft.loading import LoadPoint, burned
from keelturn.document import Moment
from keelturn.figures.catalogue import figure_of
from keelturn.figures.figure import Side
from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.noting.attempt import StopKind
from keelturn.plan.chain import LOOKOUT_MIN, climb_fpm, comfort_of
from keelturn.plan.figure_answer import FigureAnswer
from keelturn.weather.sun import sunset
from keelturn.working import Answer, Source, given, in_words

# How far the table of fuel goes, and how fine that of climbs is.
LONGEST_MIN, CLIMB_STEP_FT = 180, 100.0
# What crosses a line: the lowest height, that at which the recovery was called, or one of the others.
Crosses = Literal["height", "recover", "most_g", "rolling_g", "ias", "feel", "feel_drop", "minutes"]


@dataclass(frozen=True, slots=True)
class Line:
    """A limit in flight: what crosses it, on which side, what that is called, the one thing to do then."""

    kind: StopKind
    of: Crosses
    side: Literal["below", "above"]
    limit: Answer
    words: str
    do: str


@dataclass(frozen=True, slots=True)
class After:
    """Minutes from a gate to the end of this figure, climbs and lookouts between included, and the comfort
    load of all up to it."""

    id: str
    minutes: float
    comfort: float


@dataclass(frozen=True, slots=True)
class FigureInFlight:
    """other_side: what it is called to the other side, null where it has none. lines: those of this figure,
    the lowest last. then: itself and those planned after it, in order."""

    id: str
    other_side: str | None
    lines: tuple[Line, ...]
    then: tuple[After, ...]


@dataclass(frozen=True, slots=True)
class InFlight:
    """fuel_usgal: in the tanks that feed aerobatics, by the minute since the first figure began, at the
    card's burn. reserve_at_min: when the reserve is reached, by the same clock. light_ends: null where the
    place has no position. climb_min: (height ft, minutes from the lowest height of the table at today's best
    rate). lookout_min: before each figure. lines: those of the whole flight."""

    fuel_usgal: tuple[float, ...]
    reserve_at_min: float
    light_ends: Moment | None
    climb_min: tuple[tuple[float, float], ...]
    lookout_min: float
    comfort_limit: float
    lines: tuple[Line, ...]
    figures: tuple[FigureInFlight, ...]


def in_flight(
    planned: Sequence[PlannedFigure],
    figures: Sequence[FigureAnswer],
    points: Sequence[LoadPoint],
    comfort_limit: float,
    conditions: Conditions,
) -> InFlight:
    """figures: as computed, each from where the one before ended; points: where the load is looked at, the
    first figure second."""
    balance, first = conditions.card.balance, points[1].fuel_usgal
    feeding = [tank.name for tank in balance.tanks if tank.feeds_aerobatics]

    def left(minutes: float) -> float:
        tanks = burned(balance, first, minutes, aerobatic=True)
        return sum(tanks[name] for name in feeding)

    burn = balance.aerobatic_burn_usgal_h.value / 60.0
    reserve_at = max(0.0, left(0.0) / burn - conditions.standards.reserve_min.value)
    return InFlight(
        fuel_usgal=tuple(round(left(float(minute)), 1) for minute in range(LONGEST_MIN + 1)),
        reserve_at_min=reserve_at,
        light_ends=light_ends(conditions),
        climb_min=climb_table(conditions),
        lookout_min=LOOKOUT_MIN,
        comfort_limit=comfort_limit,
        lines=_of_the_flight(reserve_at, conditions),
        figures=tuple(
            FigureInFlight(
                figure.id,
                _other_side(planned[at]),
                _of_the_figure(figure),
                _then(planned[at:], figures[at:]),
            )
            for at, figure in enumerate(figures)
        ),
    )


def _other_side(planned: PlannedFigure) -> str | None:
    if not figure_of(planned.key).has_sides:
        return None
    side: Side = "right" if planned.side == "left" else "left"
    return planned.model_copy(update={"side": side}).title


def light_ends(conditions: Conditions) -> Moment | None:
    """Sunset less what the school keeps; None where the place has no position or the flight no time."""
    place, at = conditions.place, conditions.off_blocks
    if at is None or place.latitude_deg is None or place.longitude_deg is None:
        return None
    sets = sunset(place.latitude_deg, place.longitude_deg, at)
    return None if sets is None else sets - timedelta(minutes=conditions.standards.daylight_min.value)


def climb_table(conditions: Conditions) -> tuple[tuple[float, float], ...]:
    """From the ground to the top of the block and a step beyond; minutes add up at the rate of each step's
    middle."""
    low, top = conditions.place.elevation_ft, conditions.place.top_ft + CLIMB_STEP_FT
    heights = np.append(np.arange(low, top, CLIMB_STEP_FT), top)
    minutes = [0.0]
    for below, above in zip(heights, heights[1:], strict=False):
        rate = climb_fpm(conditions, float(below + above) / 2.0)
        minutes.append(minutes[-1] + float(above - below) / rate)
    return tuple((float(height), round(at, 3)) for height, at in zip(heights, minutes, strict=True))


def _then(planned: Sequence[PlannedFigure], figures: Sequence[FigureAnswer]) -> tuple[After, ...]:
    found, comfort, began = [], 0.0, figures[0].starts_min
    for one, figure in zip(planned, figures, strict=True):
        comfort += comfort_of(one)
        found.append(After(figure.id, figure.ends_min - began, comfort))
    return tuple(found)


def _of_the_figure(figure: FigureAnswer) -> tuple[Line, ...]:
    return (
        Line(
            StopKind.TAKE_OVER,
            "recover",
            "below",
            figure.take_over,
            f"Not recovering at {figure.take_over.shown}, where the instructor takes over",
            "My controls. Climb before anything else.",
        ),
        Line(
            StopKind.FLOOR,
            "height",
            "below",
            figure.floor,
            f"Below the floor of {figure.floor.shown}",
            "Recover and climb now. No figure from here.",
        ),
    )


def _of_the_flight(reserve_at_min: float, conditions: Conditions) -> tuple[Line, ...]:
    card, standards = conditions.card, conditions.standards
    most_g = card.limits.most_g.answer("Most g", "g")
    rolling_known = known(card, "limits.rolling_g")
    rolling = rolling_known.answer("Most g while rolling", "g")
    over_rolling = f"Over {rolling.shown} while rolling{', estimated' if rolling_known.how else ''}"
    vne = card.speed_answer(card.speeds.never_exceed_ias, "Vne")
    least = standards.feel_least.answer("Least number to go on with", "")
    drop = standards.feel_drop.answer("Most drop of the number at once", "")
    burn = Source("plan", "fuel aboard at the card's burn")
    reserve = given("Minutes to the reserve", reserve_at_min, "min", burn, "down")
    kept = in_words(standards.reserve_min.value, "min")
    land = "No more figures. Land; the aircraft is looked at before it flies again."
    return (
        Line(StopKind.G, "most_g", "above", most_g, f"Over the limit of {most_g.shown}", land),
        Line(StopKind.ROLLING_G, "rolling_g", "above", rolling, over_rolling, land),
        Line(
            StopKind.VNE, "ias", "above", vne, f"Over Vne, {vne.shown}", f"Throttle closed, ease out. {land}"
        ),
        Line(
            StopKind.FEEL,
            "feel",
            "below",
            least,
            f"The student's number is below {least.value:g}",
            "No more figures. Level, horizon, air; then home.",
        ),
        Line(
            StopKind.FEEL,
            "feel_drop",
            "above",
            drop,
            f"The student's number fell by more than {drop.value:g}",
            "Fly level, eyes on the horizon. Ask again before the next.",
        ),
        Line(
            StopKind.FUEL,
            "minutes",
            "above",
            reserve,
            f"Fuel is at the reserve of {kept}",
            "No more figures. Go home.",
        ),
    )
