"""Changes that may make a plan fit: other fuel, fewer turns, a gentler figure, without a figure."""

import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

from keelturn.aircraft.loading import AVGAS_LB_USGAL
from keelturn.figures.catalogue import figure_of
from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.margins.checks import Kind, Verdict
from keelturn.plan.document import PlanDocument
from keelturn.plan.sequence import PlanAnswer

# By whole gallons up to so many, and never fewer left in a tank (common practice, no published source).
MOST_USGAL, LEAST_USGAL = 8, 4.0


@dataclass(frozen=True, slots=True)
class Variation:
    """size: how much it asks, to choose the smaller of two."""

    size: float
    words: str
    plan: PlanDocument


def other_fuel(
    plan: PlanDocument, conditions: Conditions, answer: PlanAnswer, even_if_not_enough: bool = False
) -> Iterator[Variation]:
    """More fuel where there is too little, less where the aircraft is too heavy: the least that may do
    first."""
    stops = {c.kind: c for c in answer.checks if c.verdict == Verdict.STOP and c.overridden is None}
    heavy = [stops[kind].room for kind in (Kind.WEIGHT, Kind.SPIN_WEIGHT) if kind in stops]
    balance = Kind.BALANCE in stops
    if Kind.FUEL in stops:
        minutes = conditions.loading.aerobatic_minutes.value
        rate = conditions.loading.aerobatic_fuel.value / minutes if minutes else 0.0
        short = 0.0 if even_if_not_enough else -stops[Kind.FUEL].room * rate
        yield from _fuel(plan, conditions, short, more=True)
    if heavy or balance:
        over = 0.0 if not heavy else -min(heavy) / AVGAS_LB_USGAL
        yield from _fuel(plan, conditions, over, more=False)


def _fuel(plan: PlanDocument, conditions: Conditions, least: float, more: bool) -> Iterator[Variation]:
    """By whole gallons in each tank, from the least that is needed."""
    for usgal in range(max(1, math.ceil(least - 0.05)), MOST_USGAL + 1):
        for tank in conditions.card.balance.tanks:
            aboard = plan.load.fuel_usgal.get(tank.name, 0.0)
            after = aboard + usgal if more else aboard - usgal
            if (more and not tank.feeds_aerobatics) or not LEAST_USGAL <= after <= tank.usable_usgal:
                continue
            fuel = {**plan.load.fuel_usgal, tank.name: after}
            load = plan.load.model_copy(update={"fuel_usgal": fuel})
            weight = "" if more else f" ({usgal * AVGAS_LB_USGAL:.0f} lb)"
            words = f"{usgal} US gal {'more' if more else 'less'} in {tank.name}{weight}"
            yield Variation(float(usgal), words, plan.model_copy(update={"load": load}))


def milder(plan: PlanDocument) -> list[Variation]:
    """Less asked of the figures, smallest first: fewer turns, an incipient spin for a whole one, without a
    figure; each for one figure and for all of its kind at once."""
    found: list[Variation] = []
    for key in dict.fromkeys(f.key for f in plan.figures):
        its = [at for at, f in enumerate(plan.figures) if f.key == key]
        for ats in [[at] for at in its] + ([its] if len(its) > 1 else []):
            found += _milder(plan, ats)
    return sorted(found, key=lambda change: change.size)


def _milder(plan: PlanDocument, ats: Sequence[int]) -> list[Variation]:
    """The same figure or figures (of one kind) with less asked of them."""
    figures = [plan.figures[at] for at in ats]
    known, count = figure_of(figures[0].key), len(ats)
    numbers = " and ".join(str(at + 1) for at in ats)
    found: list[Variation] = []
    turns = min(f.parameter("turns") for f in figures) if "turns" in known.parameters else 1.0
    for fewer in (1.0, 2.0, 3.0):
        if turns - fewer >= 1.0:
            fewer_turns = [
                f.model_copy(update={"parameters": {**f.parameters, "turns": turns - fewer}}) for f in figures
            ]
            words = (
                f"{known.name} (number {numbers}): {turns - fewer:g} turn{'s' if turns - fewer != 1 else ''}"
                f" instead of {turns:g}"
            )
            found.append(Variation(10.0 * fewer + count - 1.0, words, _with(plan, ats, fewer_turns)))
    if known.gentler is not None:
        other = figure_of(known.gentler)
        gentler = [
            f.model_copy(update={"key": other.key, "parameters": _but_turns(f.parameters)}) for f in figures
        ]
        words = f"{other.name.lower()} instead of {known.name.lower()} (number {numbers})"
        found.append(Variation(15.0 + count - 1.0, words, _with(plan, ats, gentler)))
    words = f"without {known.name.lower()} (number {numbers})"
    found.append(Variation(100.0 * count, words, _with(plan, ats, [])))
    return found


def _but_turns(settings: Mapping[str, float]) -> dict[str, float]:
    return {name: value for name, value in settings.items() if name != "turns"}


def _with(plan: PlanDocument, ats: Sequence[int], others: Sequence[PlannedFigure]) -> PlanDocument:
    """The plan with these places taken by others, in order, or by nothing."""
    instead: dict[int, PlannedFigure | None] = {
        at: others[i] if i < len(others) else None for i, at in enumerate(ats)
    }
    kept = [instead.get(at, figure) for at, figure in enumerate(plan.figures)]
    return plan.model_copy(update={"figures": tuple(figure for figure in kept if figure is not None)})
