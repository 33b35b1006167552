"""What many pilots make of a figure: the loss 19 times in 20, and the instructor's recovery 99 times in
100."""

from dataclasses import dataclass
from threading import Condition

import numpy as np
from cachetools import LRUCache, cached

from keelturn.figures.catalogue import figure_of
from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.flying.costs import pilot_numbers
from keelturn.flying.course import fly
from keelturn.flying.entry import entry_speed
from keelturn.flying.pilots import PILOTS
from keelturn.margins.fan import fan_of, moving_numbers
from keelturn.motion.legs import Floats
from keelturn.units import FT

# What a figure that nobody gets out of is taken to lose: more than any block has.
HOPELESS_M = 3000.0
# Heights between which the margin is not flown anew: within half of it the margin moves by under 0.3 % of the
# loss (tested).
BUCKET_FT = 1000.0
MOST_REMEMBERED = 768


@dataclass(frozen=True, slots=True)
class Spread:
    """Feet that the lowest point lies beyond the usual pilot's, 19 times in 20; the instructor's recovery
    loss, 99 times in 100."""

    beyond_usual_ft: float
    recovery_99_ft: float


def take_over_figure(planned: PlannedFigure, conditions: Conditions) -> PlannedFigure:
    """What the instructor would have to recover: the figure itself, or the upset it can turn into, at the
    speed it is entered at."""
    take_over = figure_of(planned.key).take_over
    if take_over is None:
        return planned
    bank, path = take_over
    return PlannedFigure(
        id="take-over",
        key="nose_low",
        side=planned.side,
        start_ft=planned.start_ft,
        entry_ias=entry_speed(planned, conditions).value,
        parameters={"bank_deg": bank, "path_deg": path},
    )


def _same_fan(planned: PlannedFigure, conditions: Conditions) -> object:
    return planned.as_flown, planned.start_ft, conditions.exactly


@cached(LRUCache(MOST_REMEMBERED), key=_same_fan, condition=Condition())
def flown_by_many(planned: PlannedFigure, conditions: Conditions) -> Spread:
    """From this very height. Whoever asks first flies the fans; those who ask meanwhile wait."""
    start_m = planned.start_ft * FT
    fan = fan_of(planned, conditions, PILOTS["student"], moving_numbers(planned, conditions, "student"))
    usual = fly(planned, conditions, pilot_numbers("student"), start_m)
    recovery = recovery_99(take_over_figure(planned, conditions), conditions)
    lost = _finite(fan.lost_within(95.0), fan.lost)
    return Spread((lost - start_m + float(usual.lowest[0])) / FT, recovery)


@cached(LRUCache(MOST_REMEMBERED), key=_same_fan, condition=Condition())
def recovery_99(taken: PlannedFigure, conditions: Conditions) -> float:
    """Feet that the instructor's recovery stays within, 99 times in 100."""
    fan = fan_of(taken, conditions, PILOTS["instructor"], moving_numbers(taken, conditions, "instructor"))
    return _finite(fan.recovery_within(99.0), fan.recovery) / FT


def _finite(found: float, lost: Floats) -> float:
    """The loss, or where too many never get out the largest of those who do: the figure itself is then a stop
    of its own."""
    if np.isfinite(found):
        return found
    return float(np.nanmax(lost)) if not np.isnan(lost).all() else HOPELESS_M


def _at_bucket(planned: PlannedFigure) -> PlannedFigure:
    bucket = max(BUCKET_FT, round(planned.start_ft / BUCKET_FT) * BUCKET_FT)
    return planned.model_copy(update={"start_ft": bucket})


def spread_of(planned: PlannedFigure, conditions: Conditions) -> Spread:
    """At the nearest whole 1,000 ft and the nearest steps of weight and air, so that a start height can be
    dragged without flying the fan again at every step. Raises ValueError as `fly` does."""
    return flown_by_many(_at_bucket(planned), conditions.at_steps)
