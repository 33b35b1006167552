"""What many pilots make of a figure: the loss 19 times in 20, and the instructor's recovery 99 times in
100."""

from collections.abc import Sequence
from dataclasses import dataclass
from statistics import NormalDist
from threading import Condition

import numpy as np
from cachetools import LRUCache, cached

from keelturn.figures.catalogue import figure_of
from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.flying.costs import losses_of, pilot_numbers
from keelturn.flying.course import fly
from keelturn.flying.deviations import DEVIATES
from keelturn.flying.entry import entry_speed
from keelturn.flying.numbers import ERRORS
from keelturn.flying.pilots import PILOTS, RANGES, STUDENT
from keelturn.margins.fan import HOPELESS_M, fan_of, moving_numbers
from keelturn.margins.unsure import IN_100, Unsure, unsure_of, with_unsure
from keelturn.motion.legs import Floats
from keelturn.units import FT
from keelturn.working import Answer, Hill, Source, given

# Heights between which the margin is not flown anew: within half of it the margin moves by under 0.3 % of the
# loss (tested).
BUCKET_FT = 1000.0
MOST_REMEMBERED = 768
# Columns of the picture of what many pilots lose.
HILL_STEPS = 24
# Numbers of the pilot that are named behind a loss.
MOST_NAMED = 8


@dataclass(frozen=True, slots=True)
class Spread:
    """Feet that the lowest point lies beyond the usual pilot's, 19 times in 20; the instructor's recovery
    loss, 99 times in 100. students: how far beyond the usual one's theirs lay; instructors: what their
    recoveries lost. lies: the students' in feet at the deviates of flying/deviations.py. moving: the
    student's numbers that change the loss, the most influential first. unsure: what the card leaves open of
    the student's loss, and unsure_recovery of the recovery, which is in all of these."""

    beyond_usual_ft: float
    recovery_99_ft: float
    students: Hill
    instructors: Hill
    lies: tuple[float, ...]
    moving: tuple[str, ...]
    unsure: tuple[Unsure, ...] = ()
    unsure_recovery: tuple[Unsure, ...] = ()


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
    moving = moving_numbers(planned, conditions, "student")
    fan = fan_of(planned, conditions, PILOTS["student"], moving)
    usual = start_m - float(fly(planned, conditions, pilot_numbers("student"), start_m).lowest[0])
    recovery = recovery_99(take_over_figure(planned, conditions), conditions)
    beyond = (_finite(fan.lost_within(95.0), fan.lost) - usual) / FT
    beyond_usual = (fan.lost - usual) / FT
    unsure = unsure_of(planned, conditions, "student")
    lies = _lies(beyond_usual, beyond, [one.lost_ft for one in unsure])
    return Spread(
        lies[-1],
        recovery.lost_ft,
        hill_of(beyond_usual, 0.0),
        recovery.instructors,
        lies,
        moving,
        unsure,
        recovery.unsure,
    )


def _lies(beyond_usual_ft: Floats, most_ft: float, unsure_ft: Sequence[float]) -> tuple[float, ...]:
    """Of many pilots (N,), nan for who never gets out, in an aircraft that is known as little; none beyond
    what 19 in 20 stay within."""
    shares = [100.0 * NormalDist().cdf(at) for at in DEVIATES[:-1]]
    sorted_ft = np.where(np.isnan(beyond_usual_ft), most_ft, beyond_usual_ft)
    found = (*np.minimum(np.percentile(sorted_ft, shares), most_ft).tolist(), most_ft)
    return tuple(with_unsure(ft, unsure_ft, at) for ft, at in zip(found, DEVIATES, strict=True))


@dataclass(frozen=True, slots=True)
class Recovery:
    """lost_ft: what the instructor's recovery stays within, 99 times in 100; instructors: what all of them
    lost; unsure: what the card leaves open of it."""

    lost_ft: float
    instructors: Hill
    unsure: tuple[Unsure, ...]


@cached(LRUCache(MOST_REMEMBERED), key=_same_fan, condition=Condition())
def recovery_99(taken: PlannedFigure, conditions: Conditions) -> Recovery:
    """Of the figure that the instructor takes over."""
    fan = fan_of(taken, conditions, PILOTS["instructor"], moving_numbers(taken, conditions, "instructor"))
    start_m = taken.start_ft * FT
    _, usual = losses_of(fly(taken, conditions, pilot_numbers("instructor"), start_m), start_m)
    usual_ft, within_ft = (
        float(m) / FT for m in (usual[0], _finite(fan.recovery_within(99.0), fan.recovery))
    )
    unsure = unsure_of(taken, conditions, "instructor")
    lost_ft = within_ft
    if unsure and np.isfinite(usual_ft):
        parts = [one.recovery_ft for one in unsure]
        lost_ft = usual_ft + with_unsure(within_ft - usual_ft, parts, IN_100)
    return Recovery(lost_ft, hill_of(fan.recovery / FT, usual_ft), unsure)


def hill_of(lost_ft: Floats, usual_ft: float) -> Hill:
    """lost_ft: feet (N,), nan for who never gets out."""
    out = lost_ft[~np.isnan(lost_ft)]
    if len(out) == 0:
        return Hill(0.0, 1.0, (), 0.0, len(lost_ft))
    counts, edges = np.histogram(out, bins=HILL_STEPS)
    usual = usual_ft if np.isfinite(usual_ft) else float(np.median(out))
    return Hill(
        float(edges[0]), float(edges[1] - edges[0]), tuple(counts.tolist()), usual, len(lost_ft) - len(out)
    )


def _finite(found: float, lost: Floats) -> float:
    """The loss, or where too many never get out the largest of those who do: the figure itself is then a stop
    of its own."""
    if np.isfinite(found):
        return found
    return float(np.nanmax(lost)) if not np.isnan(lost).all() else HOPELESS_M


def _at_bucket(planned: PlannedFigure) -> PlannedFigure:
    bucket = max(BUCKET_FT, round(planned.start_ft / BUCKET_FT) * BUCKET_FT)
    return planned.model_copy(update={"start_ft": bucket})


USUAL = Source("common practice", "the usual student, no published source")


def pilot_behind(planned: PlannedFigure, moving: tuple[str, ...]) -> tuple[Answer, ...]:
    """The usual student's numbers that decide what this figure costs, the most influential first; where one
    is an error on a setting of the plan, the setting. One that is found by flight is none of the pilot's."""
    figure, found = figure_of(planned.key), list[Answer]()
    settings = {error: setting for setting, error in ERRORS.items() if setting in figure.parameters}
    for name in moving:
        usual, reach, setting = STUDENT[name].usual, RANGES[name], settings.get(name)
        if setting is not None:
            closes = figure.closes is not None and figure.closes.number == setting
            if setting in planned.parameters or not closes:
                asked, plan = figure.parameters[setting], Source("plan", planned.title)
                found.append(given(asked.label, planned.parameter(setting), asked.unit, plan))
        elif usual:
            value, unit = (usual, reach.unit) if reach.unit else (100.0 * usual, "%")
            found.append(given(reach.label, value, unit, USUAL))
    return tuple(found[:MOST_NAMED])


def spread_of(planned: PlannedFigure, conditions: Conditions) -> Spread:
    """At the nearest whole 1,000 ft and the nearest steps of weight and air, so that a start height can be
    dragged without flying the fan again at every step. Raises ValueError as `fly` does."""
    return flown_by_many(_at_bucket(planned), conditions.at_steps)
