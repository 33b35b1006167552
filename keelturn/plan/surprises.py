"""Upsets for closed eyes: set-ups that the student has not seen, drawn for this student, aircraft and day.

A set is balanced over kinds and sides, stays within what the card approves, the student's standing, the block
and what the plan leaves of comfort, and is the same for the same seed (common practice, no published source).
"""

import math
import random
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from typing import get_args

from keelturn.figures.catalogue import figure_of
from keelturn.figures.figure import Figure, Side, Stage
from keelturn.figures.planned import FlownBy, PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.plan.chain import comfort_of
from keelturn.plan.document import SET_UP, Surprises
from keelturn.plan.figure_answer import FigureAnswer

STAGES: tuple[Stage, ...] = get_args(Stage)
SIDES: tuple[Side, ...] = get_args(Side)
# Bank and path are set by eye: to the nearest of these (deg).
SET_TO_DEG = 5.0
# How often the lowest start is asked for again from the height that it gave.
LOOKS = 3
Range = tuple[float, float]


@dataclass(frozen=True, slots=True)
class Kind:
    """key: the figure that it is recovered as. bank, path: what is drawn for first flights, in deg, bank to
    the side; further: what the far end of both gains with each stage. how, with {bank}, {side} and {other},
    and the first input that is right."""

    key: str
    bank: Range
    path: Range
    further: tuple[float, float]
    how: str
    first_input: str

    def drawn(self, stage: Stage, chance: random.Random) -> dict[str, float]:
        """Within what the figure may be set to."""
        figure, steps = figure_of(self.key), STAGES.index(stage)
        return {
            name: _set_to(chance.uniform(near, far + more * steps), name, figure)
            for name, (near, far), more in (
                ("bank_deg", self.bank, self.further[0]),
                ("path_deg", self.path, self.further[1]),
            )
        }


def _set_to(drawn: float, name: str, figure: Figure) -> float:
    limits = figure.parameters[name]
    return min(limits.most, max(limits.least, SET_TO_DEG * round(drawn / SET_TO_DEG)))


KINDS: tuple[Kind, ...] = (
    Kind(
        "nose_low",
        (30.0, 60.0),
        (-20.0, -30.0),
        (20.0, -10.0),
        "Gentle turns, then {bank} of bank to the {side}, nose {path} below the horizon.",
        "Throttle closed, roll to the nearest horizon, then pull.",
    ),
    Kind(
        "nose_high",
        (10.0, 20.0),
        (25.0, 30.0),
        (20.0, 10.0),
        "Gentle turns, then nose {path} up, {bank} of bank to the {side}, speed running down.",
        "Push, with power; then level the wings.",
    ),
    Kind(
        "over_banked",
        (95.0, 100.0),
        (-5.0, -15.0),
        (15.0, -5.0),
        "From a turn roll on to {bank} of bank to the {side}, nose {path} below the horizon.",
        "Unload, then roll {other}, the short way to the horizon.",
    ),
    Kind(
        "inverted",
        (160.0, 170.0),
        (-5.0, -10.0),
        (5.0, -5.0),
        "Half a roll to the {side}, held at {bank}, nose {path} below the horizon.",
        "Push, then roll. Never pull through.",
    ),
)


@dataclass(frozen=True, slots=True)
class Surprise:
    """planned: the figure it is, at the lowest height that it may begin at, up to the next 100 ft."""

    planned: PlannedFigure
    how: str
    first_input: str
    answer: FigureAnswer


@dataclass(frozen=True, slots=True)
class Drawn:
    """asked: how many were wanted. fewer: why there are not as many, or not of every kind."""

    asked: int
    set_ups: tuple[Surprise, ...]
    fewer: tuple[str, ...]


Answered = Callable[[Sequence[PlannedFigure]], Sequence[FigureAnswer]]


def drawn_for(
    wanted: Surprises | None, comfort_left: float, conditions: Conditions, answered: Answered
) -> Drawn:
    """answered: the figures by themselves, as the plan computes them."""
    if wanted is None:
        return Drawn(0, (), ())
    fewer: list[str] = []
    kinds = [kind for kind in KINDS if _open_to(kind, conditions, fewer)]
    while kinds:
        figures = _set(wanted, kinds, comfort_left, conditions)
        set_ups = [_surprise(figure, conditions, answered) for figure in figures]
        deep = [one.planned.key for one in set_ups if not _fits(one, conditions)]
        if not deep:
            break
        kinds = [kind for kind in kinds if kind.key not in deep]
        fewer += [
            f"{figure_of(key).name}: the block is not deep enough for what was drawn"
            for key in dict.fromkeys(deep)
        ]
    if not kinds:
        return Drawn(wanted.count, (), tuple(fewer))
    if len(set_ups) < wanted.count:
        fewer.append(f"{len(set_ups)} of {wanted.count}: the plan leaves no more of what is taken well")
    return Drawn(wanted.count, tuple(set_ups), tuple(fewer))


def _open_to(kind: Kind, conditions: Conditions, fewer: list[str]) -> bool:
    figure = figure_of(kind.key)
    if kind.key not in conditions.card.approved:
        fewer.append(f"{figure.name}: not approved on the card of {conditions.card.name}")
        return False
    if STAGES.index(figure.stage) > STAGES.index(conditions.stage):
        fewer.append(f"{figure.name}: from '{figure.stage}' on")
        return False
    return True


def _set(
    wanted: Surprises, kinds: Sequence[Kind], comfort_left: float, conditions: Conditions
) -> list[PlannedFigure]:
    """As many as are wanted, or as comfort has room for, in an order that nobody foresees."""
    chance = random.Random(wanted.seed)
    order = chance.sample(kinds, len(kinds))
    for count in range(wanted.count, 0, -1):
        figures = list(_balanced(count, order, conditions.stage, random.Random(wanted.seed)))
        if sum(comfort_of(figure) for figure in figures) <= comfort_left:
            chance.shuffle(figures)
            return [f.model_copy(update={"id": f"{SET_UP}{n}"}) for n, f in enumerate(figures, 1)]
    return []


def _balanced(
    count: int, kinds: Sequence[Kind], stage: Stage, chance: random.Random
) -> Iterator[PlannedFigure]:
    """Kind after kind; sides alternate within a kind, and from each kind to the next, so that neither kinds
    nor sides differ by more than one."""
    sides = chance.sample(SIDES, len(SIDES))
    given = 0
    for at, kind in enumerate(kinds):
        for _ in range(count // len(kinds) + (at < count % len(kinds))):
            yield PlannedFigure(
                id=SET_UP,
                key=kind.key,
                side=sides[given % 2],
                start_ft=0.0,
                parameters=kind.drawn(stage, chance) | {"eyes_closed": 1.0},
                flown_by=FlownBy.ALONE,
            )
            given += 1


def _surprise(figure: PlannedFigure, conditions: Conditions, answered: Answered) -> Surprise:
    """At its lowest start, which changes with the height it is asked at: looked for from the top down."""
    planned = figure.model_copy(update={"start_ft": conditions.place.top_ft})
    (its,) = answered([planned])
    for _ in range(LOOKS):
        lowest = math.ceil(its.lowest_start.value / 100.0) * 100.0
        planned = figure.model_copy(update={"start_ft": lowest})
        (its,) = answered([planned])
        if its.start.value >= its.lowest_start.value:
            break
    kind = next(kind for kind in KINDS if kind.key == figure.key)
    words = {
        "bank": f"{planned.parameter('bank_deg'):.0f}°",
        "path": f"{abs(planned.parameter('path_deg')):.0f}°",
        "side": planned.side,
        "other": SIDES[1 - SIDES.index(planned.side)],
    }
    return Surprise(planned, kind.how.format(**words), kind.first_input.format(**words), its)


def _fits(one: Surprise, conditions: Conditions) -> bool:
    its = one.answer
    return its.start.value >= its.lowest_start.value and its.highest_point.value <= conditions.place.top_ft
