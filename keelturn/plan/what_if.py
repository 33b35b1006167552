"""What would change a figure's cost: what if it went otherwise, every school beside the others, every fault
in feet, and the map of entry speed by pull with what comes of each.

All by the usual student, start to lowest point, one change at a time. What a fault changes is an assumption
of ours, said beside its cost (common practice, no published source)."""

import math
from collections.abc import Mapping
from dataclasses import dataclass

from keelturn.figures.catalogue import figure_of
from keelturn.figures.faults import BY_KEY as FAULTS
from keelturn.figures.figure import Family
from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.flying.costs import DOES_NOT_STOP, Flown, fly_usual
from keelturn.flying.entry import at_the_stall, entry_speed
from keelturn.flying.side_view import SideView, side_view
from keelturn.margins.floors import floor_of
from keelturn.margins.gates import VERDICTS, EntryGate, EntryVerdict, entry_gate, entry_map
from keelturn.plan.beside import SchoolBeside, can_pull_through, schools_beside
from keelturn.recoveries.schools import compared_for
from keelturn.working import Answer, given, in_words, read_off, worked
from keelturn.working import Source as From

# Figures that pass through inverted flight: what a pull-through from there would cost.
INVERTED_IN = (Family.ROLLS,)
MAP_SPEEDS, MAP_PULLS = 36, 22


@dataclass(frozen=True, slots=True)
class WhatIf:
    """lost: start to lowest point; more: against the plan, positive costs; said: the same in short; lowest,
    highest: heights reached; broken: what it would break, in words, empty when nothing."""

    key: str
    words: str
    lost: Answer
    more: Answer
    said: str
    lowest: Answer
    highest: Answer
    fastest: Answer
    broken: str


@dataclass(frozen=True, slots=True)
class FaultCost:
    """more: feet on top of the usual loss, None where it is not computed; said: the same in short; assumed:
    what the fault is taken to change."""

    key: str
    words: str
    does: str
    more: Answer | None
    said: str
    assumed: str


@dataclass(frozen=True, slots=True)
class GateMap:
    """verdict[i][j]: what comes of speed i and pull j; lost_ft likewise, None where it is not
    flown."""

    speeds: tuple[float, ...]
    pulls: tuple[float, ...]
    verdict: tuple[tuple[EntryVerdict, ...], ...]
    lost_ft: tuple[tuple[int | None, ...], ...]
    here_speed: float
    here_pull: float


@dataclass(frozen=True, slots=True)
class CloserLook:
    """Everything about one planned figure that is asked for when it is looked at."""

    id: str
    side: SideView
    gate: EntryGate
    gate_map: GateMap | None
    what_ifs: tuple[WhatIf, ...]
    schools: tuple[SchoolBeside, ...]
    faults: tuple[FaultCost, ...]


def more_or_less(feet: float) -> str:
    """'+120 ft', 'saves 120 ft', 'no more'."""
    if abs(feet) < 5.0:
        return "no more"
    return f"+{in_words(feet, 'ft')}" if feet > 0 else f"saves {in_words(-feet, 'ft')}"


def closer_look(planned: PlannedFigure, conditions: Conditions) -> CloserLook:
    """Raises ValueError when the card lacks what the figure needs, or the school does not fit it."""
    usual = fly_usual(planned, conditions)
    return CloserLook(
        planned.id,
        side_view(planned, conditions),
        entry_gate(planned, conditions),
        gate_map(planned, conditions),
        what_ifs(planned, conditions, usual),
        schools_beside(planned, conditions),
        fault_costs(planned, conditions, usual),
    )


def what_ifs(planned: PlannedFigure, conditions: Conditions, usual: Flown) -> tuple[WhatIf, ...]:
    """Later, softer, pulled through, one turn more: those that the figure has."""
    figure = figure_of(planned.key)
    asked: list[tuple[str, str, PlannedFigure, Mapping[str, float]]] = [
        ("later", "First input a second later", planned, FAULTS["late"].numbers)
    ]
    if "pull_g" in figure.parameters:
        asked.append(("softer", "Pull half a g softer", planned, FAULTS["soft_pull"].numbers))
    if not at_the_stall(planned.key):
        asked.append(("slower", "Entered 10 kt slower", planned, {"speed_error_kt": -10.0}))
    if can_pull_through(planned):
        through = planned.model_copy(update={"school": compared_for(figure.situation).key})
        asked.append(("through", "Pulled through instead of rolling", through, {}))
    elif figure.family in INVERTED_IN:
        over = PlannedFigure(
            id=planned.id,
            key="inverted",
            side=planned.side,
            start_ft=planned.start_ft,
            entry_ias=entry_speed(planned, conditions).value,
            school=compared_for("inverted").key,
        )
        asked.append(("through", "Stopped on its back and pulled through", over, {}))
    if "turns" in figure.parameters:
        turns = planned.parameter("turns") + 1.0
        if turns <= figure.parameters["turns"].most:
            longer = planned.model_copy(update={"parameters": {**planned.parameters, "turns": turns}})
            asked.append(("turn", "One turn more", longer, {}))
    found = []
    for key, words, other, changed in asked:
        flown = fly_usual(other, conditions, "student", **changed)
        # A warning only where it is one.
        if key == "through" and flown.deepest_ft <= usual.deepest_ft:
            continue
        made = _what_if(key, words, planned, conditions, usual, flown)
        if (
            abs(flown.deepest_ft - usual.deepest_ft) >= 5.0
            or abs(flown.rise_ft - usual.rise_ft) >= 20.0
            or made.broken
        ):
            found.append(made)
    return tuple(found)


def _what_if(
    key: str, words: str, planned: PlannedFigure, conditions: Conditions, usual: Flown, flown: Flown
) -> WhatIf:
    card, floor = conditions.card, floor_of(planned.key, conditions)
    start = given("Start", planned.start_ft, "ft", From("plan", "this figure"))
    lost = worked(
        "Likely loss then",
        flown.deepest_ft,
        "ft",
        "the usual student's flight with this one change",
        rounding="up",
    )
    likely = worked("Likely loss", usual.deepest_ft, "ft", "the usual student's flight", rounding="up")
    lowest = worked(
        "Lowest point then",
        start.value - lost.value,
        "ft",
        "start - likely loss then",
        start,
        lost,
        rounding="down",
    )
    fastest = worked(
        "Highest speed then", flown.fastest_ias, card.speed_unit, "highest on the way", rounding="up"
    )
    highest = worked(
        "Highest point then", start.value + flown.rise_ft, "ft", "start + rise above it", start, rounding="up"
    )
    never = card.speeds.never_exceed_ias.value
    broken = (
        [f"{in_words(floor.value - lowest.value, 'ft', 'up')} below the floor"]
        if lowest.value < floor.value
        else []
    )
    if fastest.value > never:
        broken.append(f"{fastest.shown} is beyond Vne {never:.0f}")
    if highest.value > conditions.place.top_ft >= start.value:
        broken.append(f"{in_words(highest.value - conditions.place.top_ft, 'ft', 'up')} above the block")
    if flown.shortfall is not None:
        broken.append(f"{flown.shortfall.words} ({flown.shortfall.part.lower()})")
    more = worked(
        "More than planned",
        read_off(lost.value, "ft", "up") - read_off(likely.value, "ft", "up"),
        "ft",
        "likely loss then - likely loss, as they are read",
        lost,
        likely,
    )
    return WhatIf(
        key, words, lost, more, more_or_less(more.value), lowest, highest, fastest, "; ".join(broken)
    )


def fault_costs(planned: PlannedFigure, conditions: Conditions, usual: Flown) -> tuple[FaultCost, ...]:
    """Every fault of the figure with what it costs, the dearest first; those that no number of the pilot
    stands for last."""
    found = []
    likely = worked("Likely loss", usual.deepest_ft, "ft", "the usual student's flight", rounding="up")
    for fault in figure_of(planned.key).faults:
        more, ends = None, None
        if fault.numbers:
            flown = fly_usual(planned, conditions, "student", **fault.numbers)
            with_it = worked(
                "Likely loss with it", flown.deepest_ft, "ft", f"the same with {fault.assumed}", rounding="up"
            )
            ends = flown.shortfall if flown.shortfall != usual.shortfall else None
            if abs(flown.deepest_ft - usual.deepest_ft) >= 1.0 and ends != DOES_NOT_STOP:
                more = worked(
                    f"{fault.words} costs",
                    flown.deepest_ft - usual.deepest_ft,
                    "ft",
                    "likely loss with it - likely loss",
                    with_it,
                    likely,
                )
        known = more is not None or ends is not None
        assumed = (fault.assumed if known else "") + (f": {ends.words}" if ends else "")
        said = "does not stop" if ends == DOES_NOT_STOP else "not computed"
        said = said if more is None else more_or_less(more.value)
        found.append(FaultCost(fault.key, fault.words, fault.does, more, said, assumed))
    return tuple(
        sorted(found, key=lambda cost: (cost.more is None, 0.0 if cost.more is None else -cost.more.value))
    )


def gate_map(planned: PlannedFigure, conditions: Conditions) -> GateMap | None:
    """None for a figure without a pull, and where the aircraft sets the entry speed."""
    if "pull_g" not in figure_of(planned.key).parameters or at_the_stall(planned.key):
        return None
    made = entry_map(planned, conditions, MAP_SPEEDS, MAP_PULLS)
    lost = tuple(
        tuple(None if not math.isfinite(v) else round(v) for v in row) for row in made.lost_ft.tolist()
    )
    return GateMap(
        tuple(made.speeds.round(1).tolist()),
        tuple(made.pulls.round(2).tolist()),
        tuple(tuple(VERDICTS[v] for v in row) for row in made.verdict.tolist()),
        lost,
        entry_speed(planned, conditions).value,
        planned.parameter("pull_g"),
    )
