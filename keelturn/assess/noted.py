"""What a recording says of attempts, as entries beside those of the taps: of which go, and rounded as pilots
read."""

import math
from collections.abc import Iterator, Sequence
from datetime import datetime, timedelta
from itertools import count
from uuid import NAMESPACE_OID, uuid5

from keelturn.assess.flight import Judged
from keelturn.document import HIGHEST_FT
from keelturn.figures.planned import PlannedFigure
from keelturn.noting.entry import Entry, Value, What

# Between two attempts, so that their order is kept.
MOMENT = timedelta(milliseconds=1)
# More is no entry.
MOST_TURNS, MOST_G, MOST_IAS = 20.0, 12.0, 500.0


def attempts_of_flight(judged: Sequence[Judged], device: str) -> tuple[str, ...]:
    """Which go each is: the one that was tapped while it was flown, else the figure's id in the plan, then
    .2, .3, what is free; one that was not planned has a name of its own. device: what tells this recording
    from others."""
    tapped: dict[str, int] = {}
    for number, one in enumerate(judged):
        if one.tapped is not None:
            tapped.setdefault(one.tapped.attempt, number)
    names = {number: attempt for attempt, number in tapped.items()}
    taken = set(tapped)
    for number, one in enumerate(judged):
        if number in names:
            continue
        name = one.found.planned_id or f"{device}-{number + 1}"
        others = (name if go == 1 else f"{name}.{go}" for go in count(1))
        names[number] = next(free for free in others if free not in taken)
        taken.add(names[number])
    return tuple(names[number] for number in range(len(judged)))


def entries_of_flight(
    judged: Sequence[Judged], plan: Sequence[PlannedFigure], device: str, at: datetime
) -> tuple[Entry, ...]:
    """at: when the recording was read. The same recording gives the same entries."""
    by_id = {planned.id: planned for planned in plan}
    return tuple(
        Entry(
            id=str(uuid5(NAMESPACE_OID, f"{device} {attempt} {what}")),
            attempt=attempt,
            what=what,
            value=value,
            device=device,
            at=at + number * MOMENT,
            source="recorder",
        )
        for number, (one, attempt) in enumerate(zip(judged, attempts_of_flight(judged, device), strict=True))
        for what, value in _said(one, by_id, attempt)
    )


def _said(one: Judged, plan: dict[str, PlannedFigure], attempt: str) -> Iterator[tuple[What, Value]]:
    """To ten feet and a tenth; where a line is drawn at it, to the side of the line: no rounding hides that
    it was crossed."""
    measured = one.measured
    yield What.FIGURE, _figure(one, plan, attempt)
    yield What.START, _feet(round(measured.start_ft / 10.0) * 10.0)
    if measured.recover_ft is not None:
        yield What.RECOVER, _feet(math.floor(measured.recover_ft / 10.0) * 10.0)
    yield What.LOWEST, _feet(math.floor(measured.lowest_ft / 10.0) * 10.0)
    yield What.LEVEL, _feet(math.floor(measured.level_ft / 10.0) * 10.0)
    if measured.turns is not None and measured.turns <= MOST_TURNS:
        yield What.TURNS, round(measured.turns, 1)
    if measured.most_g is not None and measured.most_g <= MOST_G:
        yield What.MOST_G, math.ceil(measured.most_g * 10.0 - 1e-6) / 10.0
    if measured.rolling_g is not None and measured.rolling_g <= MOST_G:
        yield What.ROLLING_G, math.ceil(measured.rolling_g * 10.0 - 1e-6) / 10.0
    if measured.fastest_ias is not None and measured.fastest_ias <= MOST_IAS:
        yield What.FASTEST, float(math.ceil(measured.fastest_ias - 1e-6))
    if one.became is not None:
        yield What.OUTCOME, one.became.outcome


def _figure(one: Judged, plan: dict[str, PlannedFigure], attempt: str) -> PlannedFigure:
    """As it was flown: the planned one to the side that was flown, or one of the catalogue."""
    found = one.found
    if found.planned_id is not None:
        return plan[found.planned_id].model_copy(update={"side": found.figure.side})
    start = _feet(round(one.measured.start_ft / 10.0) * 10.0)
    return found.figure.model_copy(update={"id": attempt, "start_ft": start})


def _feet(height_ft: float) -> float:
    """Inside what an entry takes."""
    return min(HIGHEST_FT, max(0.0, height_ft))
