"""What is left open by numbers that the aircraft card leaves blank: how many feet more a figure costs where
the aircraft is at the dearer end of what was estimated."""

import math
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, replace

from keelturn.aircraft.blanks import Blank, blanks_of, estimate_line, filled_in, known, with_numbers
from keelturn.aircraft.card import Card
from keelturn.document import Above
from keelturn.figures.catalogue import figure_of
from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.flying.costs import losses_of, pilot_numbers
from keelturn.flying.course import fly
from keelturn.flying.pilots import Who
from keelturn.margins.fan import HOPELESS_M
from keelturn.units import FT
from keelturn.working import Answer, Source, worked

# Of a normal form: what 19 in 20 and what 99 in 100 stay below. The ends of an estimate are passed on either
# side once in 20 (keelturn/aircraft/blanks.py).
IN_20, IN_100 = 1.645, 2.326
# Where some are blank, said of how a margin was found.
AND_BLANKS = "; with what the card leaves blank, root of the sum of squares"


@dataclass(frozen=True, slots=True)
class Unsure:
    """Feet that the usual pilot loses more with this blank number at its dearer end: to the lowest point, and
    of that in the recovery."""

    path: Blank
    lost_ft: float
    recovery_ft: float


def unsure_of(planned: PlannedFigure, conditions: Conditions, who: Who) -> tuple[Unsure, ...]:
    """Of each blank number by itself, those that change nothing left out. Raises ValueError as `fly` does."""
    blanks = blanks_of(conditions.card)
    if figure_of(planned.key).spin is None:
        blanks = tuple(path for path in blanks if not path.startswith("spin."))
    if planned.side == "right":
        blanks = tuple(path for path in blanks if path != "spin.left_factor")
    if not blanks:
        return ()
    as_estimated = _losses(planned, conditions, who)
    found = []
    for path in blanks:
        ends = [
            _losses(planned, replace(conditions, card=card, spin_like=conditions.spin), who)
            for card in at_ends(path, conditions.card)
        ]
        lost, recovery = (max(0.0, *(end[i] - as_estimated[i] for end in ends)) for i in (0, 1))
        if max(lost, recovery) >= 1.0:
            found.append(Unsure(path, lost, recovery))
    return tuple(sorted(found, key=lambda one: -one.lost_ft))


def unsure_parts(card: Card, parts_ft: Iterable[tuple[Blank, float]]) -> tuple[Answer, ...]:
    """As parts of a working, the largest first: what each blank number adds by itself."""
    found = []
    for path, feet in sorted(parts_ft, key=lambda part: -part[1]):
        line = estimate_line(card, path)
        words = f"blank on the card, estimated {line.shown}, {line.between}: {line.how}"
        source = Source("estimated", "what it costs more at the dearer end of that")
        found.append(worked(line.label, feet, "ft", words, source=source, rounding="up"))
    return tuple(found)


def with_unsure(beyond_ft: float, parts_ft: Sequence[float], deviate: float = IN_20) -> float:
    """What so many stay within of pilots (beyond_ft, feet beyond the usual one) who fly an aircraft that is
    known as little: root of the sum of squares, as of errors that do not depend on each other. deviate: of a
    normal form, how many that is."""
    unsure = math.hypot(*parts_ft) * max(0.0, deviate) / IN_20
    return math.hypot(max(0.0, beyond_ft), unsure) if unsure else beyond_ft


def without_unsure(beyond_ft: float, part_ft: float, deviate: float = IN_20) -> float:
    """The same with one of the parts known."""
    rest = beyond_ft**2 - (part_ft * deviate / IN_20) ** 2
    return math.sqrt(max(0.0, rest)) if part_ft else beyond_ft


def at_ends(path: Blank, card: Card) -> Iterator[Card]:
    """The card with this number at either end of its estimate. Of the other blank ones those before it in the
    list stay at theirs, and those after it are estimated from it."""
    card = filled_in(card, before=path)
    estimate = known(card, path)
    for end in (estimate.low, estimate.high):
        if end != estimate.value:
            yield with_numbers(card, {path: Above(value=end, ref="at the end of its estimate")})


def _losses(planned: PlannedFigure, conditions: Conditions, who: Who) -> tuple[float, float]:
    start_m = planned.start_ft * FT
    lost, recovery = losses_of(fly(planned, conditions, pilot_numbers(who), start_m), start_m)
    never = HOPELESS_M if math.isnan(lost[0]) else 0.0
    return (never or float(lost[0])) / FT, (never or float(recovery[0])) / FT
