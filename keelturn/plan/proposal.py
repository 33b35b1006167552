"""A proposal: the order and the start heights that fit, or the smallest change that would make them fit.

The order is an assignment problem with heights: which figure stands at which place, how high each begins, and
how much is climbed in between, with the least climbing. It is solved as a mixed-integer linear program by
HiGHS through scipy. What the order owes to the people (gentle first, no push straight before a hard pull)
enters as cost, not as rule: common practice, no published source."""

import itertools
import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from keelturn.aircraft.loading import AVGAS_LB_USGAL, loading
from keelturn.figures.catalogue import figure_of
from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.flying.costs import Flown, fly_usual
from keelturn.flying.entry import entry_speed
from keelturn.margins.floors import floor_of, instructor_recovery, lowest_start
from keelturn.margins.spread import spread_of
from keelturn.plan.chain import TAXI_MIN, is_hard_pull, is_push, link
from keelturn.plan.document import PlanDocument
from keelturn.working import in_words, worked

# Feet of climbing that a disorder is worth: a more unsettling figure one place before a gentler one; a push
# before a hard pull.
DISORDER_FT, PUSH_PULL_FT = 80.0, 600.0
SOLVE_S = 2.0
# What is left above the lowest start where the block has room for it: less is 'mind' on the checks.
SPARE_FT = 200.0
# Starts are read and flown to this.
STEP_FT = 50.0


@dataclass(frozen=True, slots=True)
class Needs:
    """What a figure asks of the block: lowest start, likely loss to its end (negative: gained), rise above
    the start, feet; minutes."""

    lowest_start_ft: float
    lost_ft: float
    rise_ft: float
    minutes: float
    unsettles: int
    pushes: bool
    pulls: bool


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


def best_order(
    needs: Sequence[Needs], top_ft: float, ground_ft: float
) -> tuple[list[int], list[float]] | None:
    """Order (indices) and start heights with the least climbing and disorder; None when no order fits the
    block. Heights fit when every figure starts at or above its lowest start and its highest point stays below
    the top."""
    from scipy.optimize import Bounds, LinearConstraint, milp

    n = len(needs)
    if n == 0 or any(need.lowest_start_ft + need.rise_ft > top_ft for need in needs):
        return None
    pairs = [(i, j) for i in range(n) for j in range(n) if i != j and needs[i].pushes and needs[j].pulls]
    # x[i, k]: figure i at place k; then start heights s[k], climbs c[k] before place k, and w[p, k] for a
    # push before a pull.
    places, starts = n * n, n * n + 2 * n
    size = starts + len(pairs) * (n - 1)
    lost, low, rise = (
        np.array([getattr(need, name) for need in needs])
        for name in ("lost_ft", "lowest_start_ft", "rise_ft")
    )
    unsettles = np.array([float(need.unsettles) for need in needs])
    cost = np.zeros(size)
    # The more unsettling, the later: a small cost for standing early, with the place.
    for i, k in itertools.product(range(n), range(n)):
        cost[i * n + k] = DISORDER_FT * unsettles[i] * (n - 1 - k) / max(1, n - 1) / 4.0
    cost[places + n : starts] = 1.0
    cost[starts:] = PUSH_PULL_FT
    rows, least, most = [], [], []

    def rule(entries: dict[int, float], at_least: float, at_most: float) -> None:
        row = np.zeros(size)
        for at, value in entries.items():
            row[at] = value
        rows.append(row)
        least.append(at_least)
        most.append(at_most)

    for i in range(n):
        rule({i * n + k: 1.0 for k in range(n)}, 1.0, 1.0)
    for k in range(n):
        rule({i * n + k: 1.0 for i in range(n)}, 1.0, 1.0)
        rule({places + k: 1.0, **{i * n + k: -low[i] for i in range(n)}}, 0.0, np.inf)
        rule({places + k: 1.0, **{i * n + k: rise[i] for i in range(n)}}, -np.inf, top_ft)
        if k == 0:
            rule({places + n: 1.0, places: -1.0}, -ground_ft, np.inf)
        else:
            rule(
                {
                    places + n + k: 1.0,
                    places + k: -1.0,
                    places + k - 1: 1.0,
                    **{i * n + k - 1: -lost[i] for i in range(n)},
                },
                0.0,
                np.inf,
            )
    for p, (i, j) in enumerate(pairs):
        for k in range(n - 1):
            rule({starts + p * (n - 1) + k: 1.0, i * n + k: -1.0, j * n + k + 1: -1.0}, -1.0, np.inf)
    upper = np.ones(size)
    upper[places : places + n], upper[places + n : starts] = top_ft, np.inf
    whole = np.zeros(size, dtype=np.uint8)
    whole[:places] = 1
    found = milp(
        cost,
        constraints=LinearConstraint(np.array(rows), least, most),
        bounds=Bounds(np.zeros(size), upper),
        integrality=whole,
        options={"time_limit": SOLVE_S, "mip_rel_gap": 0.01},
    )
    if found.x is None:
        return None
    chosen = found.x[:places].reshape(n, n)
    order = [int(np.argmax(chosen[:, k])) for k in range(n)]
    return order, _heights(order, needs, top_ft)


def _heights(order: Sequence[int], needs: Sequence[Needs], top_ft: float) -> list[float]:
    """Start heights for an order, no climb before it is needed, up to the whole 50 ft where the block has
    room, else 10."""
    heights: list[float] = []
    for place, i in enumerate(order):
        arrives = heights[-1] - needs[order[place - 1]].lost_ft if heights else needs[i].lowest_start_ft
        start = max(needs[i].lowest_start_ft, min(arrives, top_ft - needs[i].rise_ft))
        highest = top_ft - needs[i].rise_ft
        finely = min(math.ceil(start / 10.0) * 10.0, math.floor(highest / 10.0) * 10.0)
        read = math.ceil(start / STEP_FT) * STEP_FT
        heights.append(read if read <= highest else finely)
    return heights


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
            return order, _heights(order, wanted, top)
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


Variation = tuple[float, str, PlanDocument]


def _variations(plan: PlanDocument, conditions: Conditions) -> list[Variation]:
    """Changes to try, (size, words, plan), smallest first: less or more fuel, fewer turns, an incipient spin
    for a whole one, without a figure; each for one figure and for all of its kind at once."""
    found = _other_fuel(plan, conditions)
    for key in dict.fromkeys(f.key for f in plan.figures):
        its = [at for at, f in enumerate(plan.figures) if f.key == key]
        for ats in [[at] for at in its] + ([its] if len(its) > 1 else []):
            found += _milder(plan, ats)
    return sorted(found, key=lambda change: change[0])


def _other_fuel(plan: PlanDocument, conditions: Conditions) -> list[Variation]:
    found: list[Variation] = []
    for tank in conditions.card.balance.tanks:
        aboard = plan.load.fuel_usgal.get(tank.name, 0.0)
        for less in (2.0, 4.0, 6.0):
            if aboard - less >= 4.0:
                load = plan.load.model_copy(
                    update={"fuel_usgal": {**plan.load.fuel_usgal, tank.name: aboard - less}}
                )
                words = f"{less:g} US gal less in {tank.name} ({less * AVGAS_LB_USGAL:.0f} lb)"
                found.append((less, words, plan.model_copy(update={"load": load})))
        for more in (2.0, 4.0, 8.0):
            if tank.feeds_aerobatics and aboard + more <= tank.usable_usgal:
                load = plan.load.model_copy(
                    update={"fuel_usgal": {**plan.load.fuel_usgal, tank.name: aboard + more}}
                )
                found.append(
                    (
                        more + 0.5,
                        f"{more:g} US gal more in {tank.name}",
                        plan.model_copy(update={"load": load}),
                    )
                )
    return found


def _milder(plan: PlanDocument, ats: Sequence[int]) -> list[Variation]:
    """The same figure or figures (of one kind) with less asked of them."""
    figures = [plan.figures[at] for at in ats]
    known, count = figure_of(figures[0].key), len(ats)
    numbers = " and ".join(str(at + 1) for at in ats)
    found: list[Variation] = []
    turns = min(f.parameter("turns") for f in figures) if "turns" in known.parameters else 1.0
    for fewer in (1.0, 2.0, 3.0):
        if turns - fewer >= 1.0:
            milder = [
                f.model_copy(update={"parameters": {**f.parameters, "turns": turns - fewer}}) for f in figures
            ]
            words = (
                f"{known.name} (number {numbers}): {turns - fewer:g} turn{'s' if turns - fewer != 1 else ''}"
                f" instead of {turns:g}"
            )
            found.append((10.0 * fewer + count - 1.0, words, _with(plan, ats, milder)))
    if known.gentler is not None:
        other = figure_of(known.gentler)
        gentler = [
            f.model_copy(update={"key": other.key, "parameters": _but_turns(f.parameters)}) for f in figures
        ]
        words = f"{other.name.lower()} instead of {known.name.lower()} (number {numbers})"
        found.append((15.0 + count - 1.0, words, _with(plan, ats, gentler)))
    found.append((25.0 * count, f"without {known.name.lower()} (number {numbers})", _with(plan, ats, [])))
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
    for _, words, changed in _variations(plan, conditions):
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
