"""A proposal: the order and the start heights that fit, or the smallest change that would make them fit.

The smallest is the one that leaves out no figure, then makes none milder, then has no push straight before a
hard pull, then touches the fewest (the load counts as one), then moves the least height, then climbs least
(common practice, no published source)."""

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from typing import Literal

from keelturn.aircraft.loading import loading
from keelturn.figures.catalogue import figure_of
from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.flying.costs import fly_usual
from keelturn.margins.checks import Check, Kind, Verdict
from keelturn.margins.floors import floor_of, instructor_recovery, lowest_start
from keelturn.margins.own import own_figure, ruling
from keelturn.margins.spread import spread_of
from keelturn.plan.chain import is_hard_pull, is_push
from keelturn.plan.document import PlanDocument
from keelturn.plan.figure_answer import FigureAnswer
from keelturn.plan.ordering import STEP_FT, Needs, best_order, heights_for
from keelturn.plan.sequence import PlanAnswer, compute_plan
from keelturn.plan.variations import Variation, milder, other_fuel
from keelturn.working import in_words, worked

# What is left above the lowest start where the block has room for it: less is 'mind' on the checks.
SPARE_FT = 200.0
# A start that is moved changes its own air, and so its lowest start a little: so often it is looked at again.
LOOKS = 4
# What a proposal can mend besides heights.
MENDABLE = (Kind.FUEL, Kind.WEIGHT, Kind.SPIN_WEIGHT, Kind.BALANCE)


@dataclass(frozen=True, slots=True)
class Proposal:
    """plan: the figures in the proposed order with their starts; None when nothing was found. changes: what
    is different besides order and heights, in words. headline: all that is different, in one line. fits:
    whether it keeps block, floors, fuel and weight."""

    plan: PlanDocument | None
    fits: bool
    changes: tuple[str, ...]
    climb_ft: float
    minutes: float
    why: str
    headline: str = ""


@dataclass(frozen=True, slots=True)
class Difference:
    """One thing that a proposal changes: what kind, of which figure (id; None for the whole flight), in
    words."""

    kind: Literal["without", "order", "settings", "start", "load"]
    figure: str | None
    words: str


@dataclass(frozen=True, slots=True)
class _Way:
    """A plan that was tried: what it changes in words, its answer, what still does not fit."""

    plan: PlanDocument
    answer: PlanAnswer
    changes: tuple[str, ...]
    wrong: tuple[str, ...]
    size: float = 0.0

    def cost(self, before: PlanDocument) -> tuple[float, ...]:
        """What it costs against the plan as it was: the smallest way out has the least."""
        was, its = {f.id: f for f in before.figures}, self.plan.figures
        settings = sum((f.key, f.parameters) != (was[f.id].key, was[f.id].parameters) for f in its)
        places = [f.id for f in before.figures if f.id in {other.id for other in its}]
        touched = sum(f != was[f.id] or f.id != places[at] for at, f in enumerate(its))
        moved = sum(abs(f.start_ft - was[f.id].start_ft) for f in its)
        load = float(self.plan.load != before.load)
        lost, order = len(was) - len(its), self.pushes_before_pulls
        return lost, settings, order, touched + load, load, moved, self.climbed_ft, self.size

    @property
    def pushes_before_pulls(self) -> int:
        return len(self.answer.exposure.pushes_before_pulls)

    @property
    def climbed_ft(self) -> float:
        return sum(figure.joined.climb.value for figure in self.answer.figures)


def propose(plan: PlanDocument, conditions: Conditions) -> Proposal:
    """The smallest change that makes the plan fit; none where it does. Raises ValueError when the card lacks
    what a figure needs."""
    as_wanted = _kept(plan, conditions)
    if not as_wanted.wrong:
        # Another order is only better where it spares a push before a hard pull.
        others = _laid_anew(plan, conditions) if as_wanted.pushes_before_pulls else ()
        best = min([as_wanted, *(way for way in others if not way.wrong)], key=lambda way: way.cost(plan))
        return _proposal(plan, best, "Fits the block, the floors and the fuel.")
    why = "; ".join(as_wanted.wrong)
    for ways in (
        _whole(plan, conditions, as_wanted),
        _less(plan, conditions, as_wanted.answer),
        _both(plan, conditions, as_wanted.answer),
    ):
        fitting = [way for way in ways if not way.wrong]
        if fitting:
            best = min(fitting, key=lambda way: way.cost(plan))
            return _proposal(plan, best, f"As wanted it does not fit: {why}.")
    return Proposal(None, False, (), 0.0, 0.0, f"Does not fit, and no small change makes it fit: {why}.")


def _proposal(before: PlanDocument, way: _Way, why: str) -> Proposal:
    found = Proposal(way.plan, True, way.changes, way.climbed_ft, way.answer.minutes.value, why)
    return replace(found, headline=_headline(before, found))


def _headline(before: PlanDocument, found: Proposal) -> str:
    """Everything that is different: the change, the order, and how many starts by how much."""
    parts, its = list(found.changes), differences(before, found)
    if any(d.kind == "order" for d in its):
        parts.append("another order")
    starts = [d for d in its if d.kind == "start"]
    if len(starts) == 1:
        parts.append(starts[0].words)
    elif starts:
        was = {f.id: f.start_ft for f in before.figures}
        moved = sum(abs(f.start_ft - was[f.id]) for f in found.plan.figures) if found.plan else 0.0
        parts.append(f"{len(starts)} starts moved, {in_words(moved, 'ft')} in all")
    return "; ".join(parts)


def _whole(plan: PlanDocument, conditions: Conditions, as_wanted: _Way) -> Iterator[_Way]:
    """Every figure as it is wanted: other fuel, or other heights and another order. Nothing that cannot beat
    what was found is computed."""
    tried = (_tried(variation, conditions) for variation in other_fuel(plan, conditions, as_wanted.answer))
    with_fuel = next((way for way in tried if not way.wrong), None)
    if with_fuel is not None:
        yield with_fuel
        if with_fuel.plan.figures == plan.figures and not with_fuel.pushes_before_pulls:
            return
    if not _too_shallow(as_wanted.answer, conditions):
        yield from _laid_anew(plan, conditions)


def _less(plan: PlanDocument, conditions: Conditions, answer: PlanAnswer) -> Iterator[_Way]:
    """Less asked of a figure, or of all of a kind; the smallest changes first, and no larger one once one
    fits."""
    enough = math.inf
    for variation in milder(plan):
        if variation.size > enough:
            return
        if not variation.plan.figures or _saved_min(plan, variation.plan, answer) < _short_min(answer):
            continue
        way = _tried(variation, conditions)
        yield way
        if not way.wrong:
            enough = variation.size


def _short_min(answer: PlanAnswer) -> float:
    """Minutes of fuel that are missing."""
    return max((-check.room for check in answer.checks if check.kind == Kind.FUEL), default=0.0)


def _saved_min(plan: PlanDocument, other: PlanDocument, answer: PlanAnswer) -> float:
    """The most minutes that the other plan can save: its changed figures and the ways before and after
    them."""
    its = answer.figures
    changed = [at for at, figure in enumerate(plan.figures) if figure not in other.figures]
    before = {at + by for at in changed for by in (0, 1) if at + by < len(its)}
    flown = sum(its[at].ends_min - its[at].starts_min for at in changed)
    return flown + sum(its[at].joined.minutes.value for at in before)


def _both(plan: PlanDocument, conditions: Conditions, answer: PlanAnswer) -> Iterator[_Way]:
    """The most fuel, and less asked of a figure besides."""
    for variation in list(other_fuel(plan, conditions, answer, even_if_not_enough=True))[-1:]:
        its = _with_load(conditions, variation.plan)
        for way in _less(variation.plan, its, compute_plan(variation.plan, its)):
            yield replace(way, changes=(variation.words, *way.changes), size=variation.size + way.size)


def _tried(variation: Variation, conditions: Conditions) -> _Way:
    """The variation with the fewest starts moved. One that the aircraft does not take does not fit."""
    try:
        way = _kept(variation.plan, _with_load(conditions, variation.plan))
    except ValueError as error:
        nothing = compute_plan(variation.plan.model_copy(update={"figures": ()}), conditions)
        way = _Way(variation.plan, nothing, (), (str(error),))
    return replace(way, changes=(variation.words,), size=variation.size)


def _with_load(conditions: Conditions, plan: PlanDocument) -> Conditions:
    if plan.load == conditions.load:
        return conditions
    return replace(conditions, load=plan.load, loading=loading(conditions.card, plan.load))


def _kept(plan: PlanDocument, conditions: Conditions) -> _Way:
    """The plan in its own order; only a start that breaks its floor or the block is moved, and no further
    than to where that is fine. Raises ValueError when the card lacks what a figure needs."""
    answer = compute_plan(plan, conditions)
    _require_computed(plan, answer, conditions)
    for _ in range(LOOKS):
        by_id = {figure.id: figure for figure in answer.figures}
        figures = tuple(_inside(planned, by_id[planned.id], conditions) for planned in plan.figures)
        if figures == plan.figures:
            break
        plan = plan.model_copy(update={"figures": figures})
        answer = compute_plan(plan, conditions)
    return _Way(plan, answer, (), _wrong(answer, conditions))


def _require_computed(plan: PlanDocument, answer: PlanAnswer, conditions: Conditions) -> None:
    """Raises ValueError, in the words of the flight that cannot be flown."""
    there = {figure.id for figure in answer.figures}
    for planned in plan.figures:
        if planned.id not in there:
            fly_usual(planned, conditions)


def _room(figure: FigureAnswer, conditions: Conditions) -> tuple[float, float]:
    """The lowest and the highest start that keep floor and block, to 10 ft."""
    rise = figure.highest_point.value - figure.start.value
    low = math.ceil(figure.lowest_start.value / 10.0) * 10.0
    return low, math.floor((conditions.place.top_ft - rise) / 10.0) * 10.0


def _inside(planned: PlannedFigure, figure: FigureAnswer, conditions: Conditions) -> PlannedFigure:
    low, high = _room(figure, conditions)
    start = planned.start_ft
    if low > high or low <= start <= high:
        return planned
    wanted = math.ceil((low + SPARE_FT) / STEP_FT) * STEP_FT if start < low else high // STEP_FT * STEP_FT
    return planned.model_copy(update={"start_ft": max(low, min(wanted, high))})


def _wrong(answer: PlanAnswer, conditions: Conditions) -> tuple[str, ...]:
    """What does not fit, in words: what is short for the block first."""
    shallow = _too_shallow(answer, conditions)
    found = [shallow] if shallow else []
    for check in answer.checks:
        if check.overridden is None and (words := _in_short(check)):
            found.append(words)
    return tuple(dict.fromkeys(found))


def _in_short(check: Check) -> str:
    """Of a stop that can be mended otherwise than by heights."""
    if check.verdict != Verdict.STOP or check.kind not in MENDABLE:
        return ""
    if check.kind in (Kind.WEIGHT, Kind.SPIN_WEIGHT):
        return f"weight: {in_words(-check.room, 'lb', 'up')} over"
    return f"{'fuel' if check.kind == Kind.FUEL else check.title.lower()}: {check.spare}"


def _too_shallow(answer: PlanAnswer, conditions: Conditions) -> str:
    """Which figure needs more block than there is, and how much; empty when none does."""
    short = []
    for figure in answer.figures:
        low, high = _room(figure, conditions)
        if low > high:
            short.append((low - high, figure_of(figure.key).name))
    if not short:
        return ""
    missing, name = max(short)
    return f"{name} needs {in_words(missing, 'ft', 'up')} more than the block has"


def needs_of(planned: PlannedFigure, conditions: Conditions) -> Needs:
    """At the block's top: the thinnest air that it may begin in."""
    at_top = planned.model_copy(update={"start_ft": conditions.place.top_ft})
    flown, spread = fly_usual(at_top, conditions), spread_of(at_top, conditions)
    floor, recovery = floor_of(planned.key, conditions), instructor_recovery(spread, conditions.card)
    likely = worked("Likely loss", flown.deepest_ft, "ft", "flown by the usual student")
    worst = worked(
        "Loss 19 times in 20",
        likely.value + spread.beyond_usual_ft,
        "ft",
        "likely + what 19 in 20 stay within",
        rounding="up",
    )
    rules = ruling(worst, own_figure(planned.key, likely, worst, spread.lies, floor, recovery, conditions))
    lowest = lowest_start(floor, rules, recovery, conditions).value
    return Needs(
        math.ceil(lowest / 10.0) * 10.0,
        flown.lost_ft,
        flown.rise_ft,
        flown.seconds / 60.0,
        figure_of(planned.key).unsettles,
        is_push(flown),
        is_hard_pull(flown),
    )


def _laid_anew(plan: PlanDocument, conditions: Conditions) -> Iterator[_Way]:
    """Every start anew with the least climbing: in the instructor's own order, which is not turned round to
    save a climb, and in the best."""
    needs = [needs_of(figure, conditions) for figure in plan.figures]
    top, ground_ft = conditions.place.top_ft, conditions.place.elevation_ft
    roomy = [replace(need, lowest_start_ft=need.lowest_start_ft + SPARE_FT) for need in needs]
    own = list(range(len(needs)))
    for wanted in (roomy, needs):
        if all(need.lowest_start_ft + need.rise_ft <= top for need in wanted):
            yield _placed(plan, own, heights_for(own, wanted, top), conditions)
            break
    found = best_order(roomy, top, ground_ft) or best_order(needs, top, ground_ft)
    if found is not None:
        yield _placed(plan, *found, conditions)


def _placed(
    plan: PlanDocument, order: Sequence[int], heights: Sequence[float], conditions: Conditions
) -> _Way:
    figures = tuple(
        plan.figures[i].model_copy(update={"start_ft": h}) for i, h in zip(order, heights, strict=True)
    )
    return _kept(plan.model_copy(update={"figures": figures}), conditions)


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
