"""Entry gates by root finding: the lowest, best and highest entry speed of a figure today, and the
entry-speed by pull-g map.

A figure made of legs that need speed (over the top of a loop, a roll-out on the back) says by how much the
slowest of them was above what it needs; the lowest entry speed is where that is nothing. Handbook and school
figures are used where the card has them."""

from dataclasses import dataclass
from typing import Literal, get_args

import numpy as np
from numpy.typing import NDArray

from keelturn.figures.catalogue import figure_of
from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.flying.costs import pilot_numbers
from keelturn.flying.course import closings, fly
from keelturn.flying.entry import at_the_stall, usual_entry
from keelturn.flying.numbers import flapped, ias_along, level_power, tas_at
from keelturn.flying.parts import Course
from keelturn.margins.checks import most_g
from keelturn.motion import equations as eq
from keelturn.motion.legs import Floats
from keelturn.units import FT
from keelturn.working import Answer, read_off, relabelled, worked

FINE, TOO_SLOW, TOO_HARD, TOO_FAST, OVER_BLOCK = range(5)
EntryVerdict = Literal["fine", "too slow", "too hard", "too fast", "over the block"]
VERDICTS: tuple[EntryVerdict, ...] = get_args(EntryVerdict)
# Entry speeds are looked for between Vs and Vne, to this many kt or mph.
FINENESS = 0.1


@dataclass(frozen=True, slots=True)
class EntryGate:
    """Speeds in the aircraft's unit. lowest and highest are None when no speed makes the figure; then
    `would_help` says what would."""

    lowest: Answer | None
    best: Answer
    highest: Answer | None
    pull_g: float | None
    would_help: str


@dataclass(frozen=True, slots=True)
class EntryMap:
    """verdict[i, j]: index into VERDICTS for entry speed i and pull g j. rise_ft, lost_ft: of the same shape,
    nan where it is too hard to be flown."""

    speeds: Floats
    pulls: Floats
    verdict: NDArray[np.int64]
    rise_ft: Floats
    lost_ft: Floats


def _at_speeds(
    planned: PlannedFigure, conditions: Conditions, speeds: Floats, pulls: Floats | None = None
) -> Course:
    """The figure flown once at each entry speed (aircraft's unit) by the usual student without the usual
    errors."""
    start_m = planned.start_ft * FT
    different, which = np.unique(speeds, return_inverse=True)
    tas = np.array([tas_at(conditions, float(ias), start_m) for ias in different])[which]
    powers = np.array([level_power(planned, conditions, float(ias), start_m) for ias in different])[which]
    asked: dict[str, Floats] = {"entry_tas": tas, "level_power": powers}
    if pulls is not None:
        asked["pull_g"] = pulls
    closes = figure_of(planned.key).closes
    if closes is not None and closes.number not in planned.parameters:
        asked[closes.number] = closings(planned, conditions, start_m, tas, pulls)
    return fly(planned, conditions, pilot_numbers("student"), start_m, given=asked)


def _fastest(course: Course, conditions: Conditions) -> Floats:
    return ias_along(conditions, course.fastest, course.lowest)


def entry_gate(planned: PlannedFigure, conditions: Conditions) -> EntryGate:
    """The gate of a planned figure at its start height and pull. Raises ValueError when the card lacks what
    the figure needs."""
    figure, card = figure_of(planned.key), conditions.card
    unit = card.speed_unit
    never = card.speeds.never_exceed_ias.value
    if at_the_stall(planned.key):
        return _set_by_the_stall(planned, conditions)
    speeds = np.linspace(conditions.stall.value, never, 81)
    slow, fast = _slow_and_fast(planned, conditions, speeds)
    fine = ~slow & ~fast
    pull = planned.parameter("pull_g") if "pull_g" in figure.parameters else None
    best = _best(planned, conditions)
    if not fine.any():
        return EntryGate(None, best, None, pull, _would_help(planned, conditions, slow, fast))
    first, last = int(np.argmax(fine)), len(fine) - 1 - int(np.argmax(fine[::-1]))
    lowest = _narrowed(planned, conditions, speeds[max(0, first - 1)], speeds[first], low_edge=True)
    highest = _narrowed(
        planned, conditions, speeds[last], speeds[min(len(speeds) - 1, last + 1)], low_edge=False
    )
    low = worked(
        "Lowest entry speed",
        lowest,
        unit,
        "the slowest entry that still has the speed every part of the figure needs",
        conditions.stall,
        rounding="up",
    )
    high = worked(
        "Highest entry speed",
        highest,
        unit,
        "the fastest entry that keeps Va where it counts, the g limit and the margin below Vne",
        conditions.manoeuvring,
        card.speed_answer(card.speeds.never_exceed_ias, "Vne"),
        rounding="down",
    )
    slowest, fastest = read_off(lowest, unit, "up"), read_off(highest, unit, "down")
    if not slowest <= read_off(best.value, unit) <= fastest:
        value = min(max(best.value, slowest + 0.1 * (fastest - slowest)), fastest)
        best = worked(
            "Best entry speed",
            value,
            unit,
            "the gate's speed, brought inside what can be flown today",
            best,
            low,
            high,
            rounding="down" if value >= fastest else "up",
        )
    return EntryGate(low, best, high, pull, "")


def _best(planned: PlannedFigure, conditions: Conditions) -> Answer:
    return relabelled(usual_entry(planned.key, conditions), "Best entry speed")


def _set_by_the_stall(planned: PlannedFigure, conditions: Conditions) -> EntryGate:
    """At the stall the aircraft sets the speed: lowest, best and highest are one."""
    best = _best(planned, conditions)
    return EntryGate(best, best, best, None, "")


def _slow_and_fast(
    planned: PlannedFigure, conditions: Conditions, speeds: Floats
) -> tuple[NDArray[np.bool_], NDArray[np.bool_]]:
    """At which entry speeds the figure lacks speed somewhere, and at which it breaks a limit: Vne with its
    margin, g, and Va where the gate is bound to it."""
    gate, course = figure_of(planned.key).gate, _at_speeds(planned, conditions, speeds)
    slow: NDArray[np.bool_] = (course.margin < 0) | (course.made == 0)
    figure = figure_of(planned.key)
    if figure.holds_height:
        slow |= course.limited > 0
    if figure.keeps_ft is not None and course.end is not None:
        slow |= planned.start_ft * FT - course.end.states[:, eq.UP] > figure.keeps_ft * FT
    fast: NDArray[np.bool_] = _fastest(course, conditions) > conditions.fastest_allowed.value
    fast |= course.most_g > most_g(conditions, flapped(planned)).value + 1e-6
    if gate.full_controls or not gate.to_never_exceed:
        fast |= speeds > conditions.manoeuvring.value
    return slow, fast


def _narrowed(
    planned: PlannedFigure, conditions: Conditions, low: float, high: float, low_edge: bool
) -> float:
    """The edge between a speed that can be flown and one that cannot, by halving with nine flights at
    once."""
    if high - low < 1e-9:
        return low
    while high - low > FINENESS:
        speeds = np.linspace(low, high, 9)
        slow, fast = _slow_and_fast(planned, conditions, speeds)
        fine = ~slow if low_edge else ~(slow | fast)
        edge = int(np.argmax(fine)) if low_edge else len(fine) - int(np.argmax(fine[::-1])) - 1
        if low_edge:
            low, high = float(speeds[max(0, edge - 1)]), float(speeds[edge])
        else:
            low, high = float(speeds[edge]), float(speeds[min(len(speeds) - 1, edge + 1)])
        if high - low < 1e-9:
            break
    return high if low_edge else low


def _would_help(
    planned: PlannedFigure, conditions: Conditions, slow: NDArray[np.bool_], fast: NDArray[np.bool_]
) -> str:
    """What would make a figure that no entry speed makes: another pull, less weight, or another aircraft."""
    figure = figure_of(planned.key)
    if "pull_g" in figure.parameters:
        parameter, asked = figure.parameters["pull_g"], planned.parameter("pull_g")
        # Never beyond the limit, with flap the flap's.
        most = min(parameter.most, most_g(conditions, flapped(planned)).value)
        for pull in np.arange(asked + 0.25, most + 1e-9, 0.25):
            trial = planned.model_copy(update={"parameters": {**planned.parameters, "pull_g": float(pull)}})
            speeds = np.linspace(conditions.stall.value, conditions.card.speeds.never_exceed_ias.value, 41)
            too_slow, too_fast = _slow_and_fast(trial, conditions, speeds)
            made = ~too_slow & ~too_fast
            if made.any():
                return (
                    f"A pull of {pull:.1f} g from {speeds[int(np.argmax(made))]:.0f}"
                    f" {conditions.card.speed_unit} would make it."
                )
    if slow.all():
        return "No speed this aircraft may reach is enough: less weight, more power, or another aircraft."
    return (
        "Wherever it is fast enough to be made, it ends too fast: less power on the way down, or another"
        " aircraft."
    )


def entry_map(planned: PlannedFigure, conditions: Conditions, speeds: int = 60, pulls: int = 40) -> EntryMap:
    """Entry speed by pull g: what comes of each pair. Raises ValueError for a figure without a pull."""
    figure, card = figure_of(planned.key), conditions.card
    if "pull_g" not in figure.parameters:
        raise ValueError(f"{figure.name} has no pull to draw against its entry speed")
    entry = np.linspace(conditions.stall.value, card.speeds.never_exceed_ias.value, speeds)
    parameter = figure.parameters["pull_g"]
    pull = np.linspace(parameter.least, max(parameter.most, card.limits.most_g.value + 0.5), pulls)
    at, by = np.meshgrid(entry, pull, indexing="ij")
    start_m = planned.start_ft * FT
    verdict, rise, lost = np.full(at.shape, TOO_HARD), np.full(at.shape, np.nan), np.full(at.shape, np.nan)
    # What the wing or the limit cannot give needs no flying.
    flown = (by <= card.limits.most_g.value) & (by <= (at / conditions.stall.value) ** 2)
    course = _at_speeds(planned, conditions, at[flown], by[flown])
    found = np.full(len(course.lowest), FINE)
    found[course.highest / FT > conditions.place.top_ft] = OVER_BLOCK
    found[_fastest(course, conditions) > conditions.fastest_allowed.value] = TOO_FAST
    found[(course.margin < 0) | (course.made == 0)] = TOO_SLOW
    verdict[flown], rise[flown], lost[flown] = (
        found,
        (course.highest - start_m) / FT,
        (start_m - course.lowest) / FT,
    )
    return EntryMap(entry, pull, verdict, rise, lost)
