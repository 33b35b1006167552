"""A proposal: the order and the start heights that fit, or the smallest change that would make them fit."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

from keelturn.aircraft.loading import loading
from keelturn.figures.catalogue import figure_of
from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.flying.costs import Flown, fly_usual
from keelturn.flying.entry import entry_speed
from keelturn.margins.floors import floor_of, instructor_recovery, lowest_start
from keelturn.margins.spread import spread_of
from keelturn.plan.chain import TAXI_MIN, is_hard_pull, is_push, link
from keelturn.plan.document import PlanDocument
from keelturn.plan.ordering import Needs, best_order, heights_for
from keelturn.plan.variations import variations
from keelturn.working import in_words, worked

# What is left above the lowest start where the block has room for it: less is 'mind' on the checks.
SPARE_FT = 200.0


@dataclass(frozen=True, slots=True)
class Proposal:
    """plan: the figures in the proposed order with their starts; None when nothing was found. changes: what
    is different, in words, empty when only order and heights are. fits: whether it keeps block, floors, fuel
    and weight."""

    plan: PlanDocument | None
    fits: bool
    changes: tuple[str, ...]
    climb_ft: float
    minutes: float
    why: str


@dataclass(frozen=True, slots=True)
class Difference:
    """One thing that a proposal changes: what kind, of which figure (id; None for the whole flight), in
    words."""

    kind: Literal["without", "order", "settings", "start", "load"]
    figure: str | None
    words: str


def needs_of(planned: PlannedFigure, conditions: Conditions) -> tuple[Needs, Flown]:
    """At the block's top: the thinnest air that it may begin in."""
    at_top = planned.model_copy(update={"start_ft": conditions.place.top_ft})
    flown, spread = fly_usual(at_top, conditions), spread_of(at_top, conditions)
    worst = worked(
        "Loss 19 times in 20",
        flown.deepest_ft + spread.beyond_usual_ft,
        "ft",
        "likely + what 19 in 20 stay within",
        rounding="up",
    )
    lowest = lowest_start(
        floor_of(planned.key, conditions), worst, instructor_recovery(spread), conditions
    ).value
    figure = figure_of(planned.key)
    return (
        Needs(
            math.ceil(lowest / 10.0) * 10.0,
            flown.lost_ft,
            flown.rise_ft,
            flown.seconds / 60.0,
            figure.unsettles,
            is_push(flown),
            is_hard_pull(flown),
        ),
        flown,
    )


def _laid_in_order(
    figures: Sequence[PlannedFigure], needs: Sequence[Needs], conditions: Conditions
) -> tuple[list[int], list[float]] | None:
    """The instructor's own order, where it fits and has no push before a hard pull: nobody's lesson is turned
    round to save a climb."""
    top = conditions.place.top_ft
    if not needs or any(
        before.pushes and after.pulls for before, after in zip(needs, needs[1:], strict=False)
    ):
        return None
    for spare in (SPARE_FT, 0.0):
        wanted = [replace(need, lowest_start_ft=need.lowest_start_ft + spare) for need in needs]
        if all(need.lowest_start_ft + need.rise_ft <= top for need in wanted):
            order = list(range(len(figures)))
            return order, heights_for(order, wanted, top)
    return None


Laid = tuple[PlanDocument, float, float, list[str]]


def _laid_out(plan: PlanDocument, conditions: Conditions) -> Laid | None:
    """The plan with heights, feet climbed, minutes, and what else does not fit: in its own order where that
    fits, else in the best; None when no order fits the block."""
    asked = [needs_of(figure, conditions) for figure in plan.figures]
    needs, leaves = [need for need, _ in asked], [flown.exit_ias for _, flown in asked]
    top, ground_ft = conditions.place.top_ft, conditions.place.elevation_ft
    own = _laid_in_order(plan.figures, needs, conditions)
    kept = None if own is None else _counted(plan, conditions, needs, leaves, own)
    if kept is not None and not kept[3]:
        return kept
    roomy = [replace(need, lowest_start_ft=need.lowest_start_ft + SPARE_FT) for need in needs]
    other = best_order(roomy, top, ground_ft) or best_order(needs, top, ground_ft)
    turned = None if other is None else _counted(plan, conditions, needs, leaves, other)
    return turned if kept is None or (turned is not None and not turned[3]) else kept


def _counted(
    plan: PlanDocument,
    conditions: Conditions,
    needs: Sequence[Needs],
    leaves: Sequence[float],
    laid: tuple[list[int], list[float]],
) -> Laid:
    """An order with heights as a plan, with its climbs, minutes, fuel and weight. leaves: the speed each
    figure leaves."""
    order, heights = laid
    figures = tuple(
        plan.figures[i].model_copy(update={"start_ft": h}) for i, h in zip(order, heights, strict=True)
    )
    height, speed, climbed, minutes = conditions.place.elevation_ft, None, 0.0, TAXI_MIN
    for i, start in zip(order, heights, strict=True):
        joined = link(conditions, height, speed, start, entry_speed(plan.figures[i], conditions).value)
        climbed += joined.climb_ft
        minutes += joined.minutes + needs[i].minutes
        height, speed = start - needs[i].lost_ft, leaves[i]
    wrong = []
    spare = conditions.loading.aerobatic_minutes.value - conditions.standards.reserve_min.value - minutes
    if spare < 0:
        wrong.append(f"fuel: {in_words(-spare, 'min', 'up')} short")
    over = conditions.weight_lb - conditions.card.balance.aerobatic_most_lb.value
    if over > 0:
        wrong.append(f"weight: {in_words(over, 'lb', 'up')} over")
    return plan.model_copy(update={"figures": figures}), climbed, minutes, wrong


def differences(before: PlanDocument, proposal: Proposal) -> tuple[Difference, ...]:
    """What accepting the proposal would change, each able to be taken by itself; empty when nothing was found
    or nothing differs."""
    after = proposal.plan
    if after is None:
        return ()
    found: list[Difference] = []
    was = {f.id: f for f in before.figures}
    kept = [f.id for f in before.figures if f.id in {a.id for a in after.figures}]
    order = [f.id for f in after.figures]
    for gone in (f for f in before.figures if f.id not in order):
        found.append(Difference("without", gone.id, f"Without {gone.title}"))
    if order != kept:
        words = ", ".join(f.title for f in after.figures)
        found.append(Difference("order", None, f"In the order: {words}"))
    for figure in after.figures:
        old = was[figure.id]
        if (figure.key, figure.parameters) != (old.key, old.parameters):
            found.append(Difference("settings", figure.id, f"{figure.title} instead of {old.title}"))
        if figure.start_ft != old.start_ft:
            way = "higher" if figure.start_ft > old.start_ft else "lower"
            found.append(
                Difference(
                    "start",
                    figure.id,
                    f"{figure.title}: start at {in_words(figure.start_ft, 'ft', 'up')}, "
                    f"{in_words(abs(figure.start_ft - old.start_ft), 'ft')} {way}",
                )
            )
    if after.load != before.load:
        found.append(Difference("load", None, "; ".join(proposal.changes)))
    return tuple(found)


def propose(plan: PlanDocument, conditions: Conditions) -> Proposal:
    """Order and heights for the wanted figures, with the smallest change that makes them fit when they do
    not. Raises ValueError when the card lacks what a figure needs."""
    found = _laid_out(plan, conditions)
    if found is not None and not found[3]:
        return Proposal(found[0], True, (), found[1], found[2], "Fits the block, the floors and the fuel.")
    why = "; ".join(found[3]) if found is not None else _too_shallow(plan, conditions)
    for _, words, changed in variations(plan, conditions):
        try:
            its = _with_load(conditions, changed)
        except ValueError:
            continue
        trial = _laid_out(changed, its)
        if trial is not None and not trial[3]:
            return Proposal(
                trial[0], True, (words,), trial[1], trial[2], f"As wanted it does not fit: {why}."
            )
    return Proposal(None, False, (), 0.0, 0.0, f"Does not fit, and no one change makes it fit: {why}.")


def _with_load(conditions: Conditions, plan: PlanDocument) -> Conditions:
    return replace(conditions, load=plan.load, loading=loading(conditions.card, plan.load))


def _too_shallow(plan: PlanDocument, conditions: Conditions) -> str:
    """Which figure needs more block than there is, and how much."""
    short = []
    for figure in plan.figures:
        need, _ = needs_of(figure, conditions)
        missing = need.lowest_start_ft + need.rise_ft - conditions.place.top_ft
        if missing > 0:
            short.append((missing, figure_of(figure.key).name))
    if not short:
        return "no order keeps every start inside the block"
    missing, name = max(short)
    return f"{name} needs {in_words(missing, 'ft', 'up')} more than the block has"
