"""What many pilots make of a figure: the loss 19 times in 20, and the instructor's recovery 99 times in
100."""

from collections import OrderedDict
from collections.abc import Callable, Sequence
from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import dataclass
from threading import Lock
from typing import Generic, TypeVar

import numpy as np

from keelturn.figures.catalogue import figure_of
from keelturn.figures.figure import Figure
from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.flying.costs import fan_losses, pilot_numbers, within
from keelturn.flying.course import fly
from keelturn.flying.pilots import drawn_numbers
from keelturn.motion.legs import Floats
from keelturn.units import FT

Found = TypeVar("Found")
# What a figure that nobody gets out of is taken to lose: more than any block has.
HOPELESS_M = 3000.0
BUCKET_FT = 2000.0
MOST_REMEMBERED = 768


@dataclass(frozen=True, slots=True)
class Spread:
    """Feet that the lowest point lies beyond the usual pilot's, 19 times in 20; the instructor's recovery
    loss, 99 times in 100."""

    beyond_usual_ft: float
    recovery_99_ft: float


def take_over_figure(planned: PlannedFigure, figure: Figure) -> PlannedFigure:
    """What the instructor would have to recover: the figure itself, or the upset it can turn into."""
    if figure.take_over is None:
        return planned
    bank, path = figure.take_over
    return PlannedFigure(
        id="take-over",
        key="nose_low",
        side=planned.side,
        start_ft=planned.start_ft,
        entry_ias=planned.entry_ias,
        parameters={"bank_deg": bank, "path_deg": path},
    )


def _fly_fans(planned: PlannedFigure, conditions: Conditions) -> Spread:
    start_m = planned.start_ft * FT
    lost, _ = fan_losses(planned, conditions, drawn_numbers("student"), start_m)
    taken = take_over_figure(planned, figure_of(planned.key))
    recovery = RECOVERIES.remembered(
        (taken.as_flown, taken.start_ft, conditions.same_air_and_aircraft),
        lambda: _recovery_99(taken, conditions, start_m),
    )
    usual = fly(planned, conditions, pilot_numbers("student"), start_m)
    return Spread((_finite(within(lost, 95.0), lost) - start_m + float(usual.lowest[0])) / FT, recovery)


def _recovery_99(taken: PlannedFigure, conditions: Conditions, start_m: float) -> float:
    _, recovery = fan_losses(taken, conditions, drawn_numbers("instructor"), start_m)
    return _finite(within(recovery, 99.0), recovery) / FT


def _finite(found: float, lost: Floats) -> float:
    """The loss, or where too many never get out the largest of those who do: the figure itself is then a stop
    of its own."""
    if np.isfinite(found):
        return found
    return float(np.nanmax(lost)) if not np.isnan(lost).all() else HOPELESS_M


class Memory(Generic[Found]):
    """What has been flown already. Whoever asks first flies the fan; those who ask meanwhile wait for it."""

    def __init__(self) -> None:
        self._found: OrderedDict[object, Future[Found]] = OrderedDict()
        self._lock = Lock()

    def forget(self) -> None:
        with self._lock:
            self._found.clear()

    def knows(self, key: object) -> bool:
        return key in self._found

    def remembered(self, key: object, fly: Callable[[], Found]) -> Found:
        with self._lock:
            there = self._found.get(key)
            mine: Future[Found] = there or Future()
            if there is None:
                self._found[key] = mine
                if len(self._found) > MOST_REMEMBERED:
                    self._found.popitem(last=False)
        if there is None:
            try:
                mine.set_result(fly())
            except BaseException as error:
                mine.set_exception(error)
                with self._lock:
                    self._found.pop(key, None)
                raise
        return mine.result()


MEMORY: Memory[Spread] = Memory()
RECOVERIES: Memory[float] = Memory()


def spreads_of(figures: Sequence[PlannedFigure], conditions: Conditions) -> list[Spread]:
    """The spread of each; fans not flown before are flown on two threads (the engine frees the
    interpreter)."""
    if all(MEMORY.knows(_key(figure, conditions)[0]) for figure in figures):
        return [spread_of(figure, conditions) for figure in figures]
    with ThreadPoolExecutor(2) as pool:
        return list(pool.map(lambda figure: spread_of(figure, conditions), figures))


def _key(planned: PlannedFigure, conditions: Conditions) -> tuple[object, PlannedFigure]:
    bucket = max(BUCKET_FT, round(planned.start_ft / BUCKET_FT) * BUCKET_FT)
    at_bucket = planned.model_copy(
        update={"id": "spread", "start_ft": bucket, "flown_by": "student with talk"}
    )
    return (at_bucket.as_flown, bucket, conditions.same_air_and_aircraft), at_bucket


def spread_of(planned: PlannedFigure, conditions: Conditions) -> Spread:
    """From 768 pilots at the nearest whole 2,000 ft, remembered: the margin changes by less than 1 % of the
    loss over that (tested), so that a start height can be dragged without flying the fan again. Raises
    ValueError as `programme` does."""
    key, at_bucket = _key(planned, conditions)
    return MEMORY.remembered(key, lambda: _fly_fans(at_bucket, conditions))
