"""Which figures were flown, where each begins and ends: the flight is cut where it is level or passes through
level, every run of a few pieces is a candidate, and the cheapest way through all of them, along the plan, is
what was flown (dynamic programming).

Costs are ours, set on one half of the simulated flights and held by the other (docs/model.md)."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.motion.legs import Floats
from keelturn.recording.cleaning import Cleaned
from keelturn.recording.flown import BANK_DEG, PITCH_DEG, Flown, slope
from keelturn.recording.likeness import Template, Turning, catalogue, likeness, of_plan, off, stall_kt
from keelturn.units import KT, SPEED


class Place(StrEnum):
    """How a figure that was found stands to the plan."""

    PLANNED = "planned"
    AGAIN = "again"
    UNPLANNED = "unplanned"


@dataclass(frozen=True, slots=True)
class Found:
    """first, last: rows of the cleaned recording. figure: as it was flown, as far as its name goes: the
    planned one, or one of the catalogue with its usual settings; start and turns are measured. planned_id:
    which of the plan it is, None for one that was not planned. sure: 0 to 1, of its name. others: names that
    it could be, the likeliest first, each with how likely."""

    first: int
    last: int
    figure: PlannedFigure
    planned_id: str | None
    place: Place
    sure: float
    others: tuple[tuple[PlannedFigure, float], ...]


# Level again for less than this is not level again; restless for less is a gust (s).
LEVEL_S, RESTLESS_S = 0.5, 0.7
# Passing through level: within these it can be cut there, this long after the last cut.
PASSING_PITCH_DEG, PASSING_BANK_DEG, BETWEEN_CUTS_S = 15.0, 20.0, 1.5
# A figure has so many pieces and lasts so long at most, and is level in between for so long.
MOST_PIECES, LONGEST_S, LEVEL_INSIDE_S = 7, 200.0, 9.0
# What a figure costs by how it stands to the plan, and one that was planned and not flown.
PLANNED, SKIPPED, AGAIN, EARLIER, UNPLANNED = 1.0, 4.0, 1.5, 2.5, 8.0
# A planned figure to the other side, or like one that is flown with a fault.
OTHER_SIDE, AT_FAULT = 2.0, 0.5
# What a piece costs that is nothing: at all, for each degree of bank and pitch beyond these, and for each
# ft/s of sink beyond a descent's.
NOTHING, A_DEG, A_FPS = 1.0, 1.0 / 4.0, 1.0 / 4.0
LEFT_BANK_DEG, LEFT_PITCH_DEG, DESCENT_FPS = 14.0, 17.0, 30.0
# How dear it is to be unlike, as a share of the distance.
LIKE = 0.45
# Names that cost so much more are e times less likely.
DOUBT = 1.0
# Slower than these shares of stall and climb speed, something is being flown.
SLOW_VS, SLOW_CLIMB = 1.36, 0.95
# A straight descent this steady for so long is no part of what comes after it.
STEADY_G, STEADY_FPS, STEADY_FPS2, STEADY_S = 0.12, 35.0, 4.0, 4.0


@dataclass(frozen=True, slots=True)
class Name:
    template: Template
    # How manieth of the plan; None for one of the catalogue.
    at: int | None
    costs: float


def find(cleaned: Cleaned, plan: Sequence[PlannedFigure], conditions: Conditions) -> tuple[Found, ...]:
    """plan: what was briefed, in its order; may be empty."""
    flown = cleaned.flown
    turning = Turning.of(flown)
    pieces = _pieces(flown, cleaned.holes, conditions)
    names = _names(plan, conditions)
    costs = np.array([name.costs for name in names])
    gates = _gates(names)
    stall = stall_kt(conditions)
    spans: dict[tuple[int, int], Floats] = {}
    for i, j in _runs(flown, pieces):
        first, last = pieces[i][0], pieces[j][1]
        found = np.full(len(names), np.inf)
        likes: dict[int, Floats] = {}
        for entry, those, table in gates:
            begins = _begins(flown, first, last, entry)
            if begins not in likes:
                likes[begins] = likeness(flown, turning, begins, last, stall)
            found[those] = off(likes[begins], table)
        spans[i, j] = LIKE * found + costs
    nothing = np.array([_nothing(flown, first, last) for first, last in pieces])
    way = _cheapest(len(pieces), len(plan), spans, nothing, names)
    return tuple(_found(flown, pieces, spans[i, j], names, plan, at, place, i, j) for i, j, at, place in way)


def _names(plan: Sequence[PlannedFigure], conditions: Conditions) -> list[Name]:
    """The plan's figures, then the catalogue's."""
    found = [
        Name(
            known,
            at,
            OTHER_SIDE * (known.planned.side != planned.side) + AT_FAULT * bool(known.fault),
        )
        for at, planned in enumerate(plan)
        for known in of_plan(planned, conditions)
    ]
    typical = float(np.median([planned.start_ft for planned in plan])) if plan else 6000.0
    return found + [Name(known, None, 0.0) for known in catalogue(conditions, round(typical, -3))]


def _pieces(flown: Flown, holes: NDArray[np.bool_], conditions: Conditions) -> list[tuple[int, int]]:
    """First and last row of each stretch without level flight, cut where it passes through level."""
    hz = 1.0 / float(np.median(np.diff(flown.time)))
    card = conditions.card
    climb_kt = card.speeds.climb_ias.value * SPEED[card.speed_unit] / KT
    slow = flown.ias < min(SLOW_VS * stall_kt(conditions), SLOW_CLIMB * climb_kt)
    level = flown.level() & ~slow & ~holes
    level = _without_short(level, round(LEVEL_S * hz))
    restless = _without_short(~level, round(RESTLESS_S * hz)) & ~holes
    steady = _without_short(_steady(flown), round(STEADY_S * hz))
    found: list[tuple[int, int]] = []
    for first, last in _stretches(restless):
        calmer = [at for a, b in _stretches(steady) for at in (a, b) if first < at < last]
        passing = _cuts(flown, first, last, round(BETWEEN_CUTS_S * hz))
        cuts = sorted({first, *calmer, *(at for at in passing if not steady[at]), last})
        # The last level row before is where it begins, the first after where it ends.
        found += [
            (max(0, a - (a == first)), min(len(restless) - 1, b + (b == last)))
            for a, b in zip(cuts, cuts[1:], strict=False)
        ]
    return found


def _steady(flown: Flown) -> NDArray[np.bool_]:
    """Straight down at an even rate. What was not recorded says nothing against it."""
    away = (
        (np.abs(flown.bank) >= BANK_DEG)
        | (np.abs(flown.pitch) >= -PITCH_DEG[0])
        | (np.abs(flown.g - 1.0) >= STEADY_G)
        | (flown.sink >= STEADY_FPS)
        | (np.abs(slope(flown.time, flown.sink)) >= STEADY_FPS2)
    )
    return ~away


def _stretches(mask: NDArray[np.bool_]) -> Iterator[tuple[int, int]]:
    edges = np.flatnonzero(np.diff(mask.astype(np.int8), prepend=0, append=0))
    yield from zip(edges[::2].tolist(), (edges[1::2] - 1).tolist(), strict=True)


def _without_short(mask: NDArray[np.bool_], rows: int) -> NDArray[np.bool_]:
    kept = mask.copy()
    for first, last in _stretches(mask):
        if last - first + 1 < rows:
            kept[first : last + 1] = False
    return kept


def _cuts(flown: Flown, first: int, last: int, apart: int) -> list[int]:
    """Rows inside, where nose and wings pass nearest level."""
    if last - first < 2 * apart:
        return []
    away = (flown.pitch / PASSING_PITCH_DEG) ** 2 + (flown.bank / PASSING_BANK_DEG) ** 2
    inside = np.zeros(len(away), dtype=np.bool_)
    inside[first + apart : last - apart + 1] = True
    near = inside & (away < 1.0)
    found: list[int] = []
    for a, b in _stretches(near):
        at = a + int(np.argmin(away[a : b + 1]))
        if not found or at - found[-1] >= apart:
            found.append(at)
    return found


def _runs(flown: Flown, pieces: list[tuple[int, int]]) -> Iterator[tuple[int, int]]:
    for i, (first, _) in enumerate(pieces):
        for j in range(i, min(len(pieces), i + MOST_PIECES)):
            if j > i and flown.time[pieces[j][0]] - flown.time[pieces[j - 1][1]] > LEVEL_INSIDE_S:
                break
            if flown.time[pieces[j][1]] - flown.time[first] > LONGEST_S and j > i:
                break
            yield i, j


def _nothing(flown: Flown, first: int, last: int) -> float:
    """What it costs to say that a piece was no figure: how far it went from level, how fast it sank."""
    rows = slice(first, last + 1)
    away = [
        np.abs(flown.bank[rows]).max() - LEFT_BANK_DEG,
        np.abs(flown.pitch[rows]).max() - LEFT_PITCH_DEG,
    ]
    sank = max(0.0, float(flown.sink[rows].max()) - DESCENT_FPS)
    return NOTHING + sank * A_FPS + sum(max(0.0, float(a)) * A_DEG for a in away if np.isfinite(a))


def _cheapest(
    pieces: int, planned: int, spans: dict[tuple[int, int], Floats], nothing: Floats, names: list[Name]
) -> list[tuple[int, int, int, Place]]:
    """Runs of pieces that are figures: first and last piece, which of the names, how it stands to the plan.

    The state before a piece is how many of the plan are behind; each piece is nothing, or begins a run that
    is the next of the plan, a later one, one again, or one of the catalogue."""
    least = np.full((pieces + 1, planned + 1), np.inf)
    least[0, 0] = 0.0
    came: dict[tuple[int, int], tuple[int, int, int | None, Place]] = {}

    def reach(k: int, p: int, costs: float, whence: tuple[int, int, int | None, Place]) -> None:
        if costs < least[k, p]:
            least[k, p], came[k, p] = costs, whence

    of_item = [[n for n, name in enumerate(names) if name.at == q] for q in range(planned)]
    others = [n for n, name in enumerate(names) if name.at is None]
    by_start: dict[int, list[tuple[int, Floats]]] = {}
    for (i, j), costs in spans.items():
        by_start.setdefault(i, []).append((j, costs))
    for k in range(pieces):
        best = {
            j: (
                [min(of, key=costs.__getitem__) for of in of_item],
                min(others, key=costs.__getitem__) if others else None,
                costs,
            )
            for j, costs in by_start.get(k, [])
        }
        for p in range(planned + 1):
            now = float(least[k, p])
            if not np.isfinite(now):
                continue
            reach(k + 1, p, now + float(nothing[k]), (k, p, None, Place.UNPLANNED))
            for j, (items, other, costs) in best.items():
                for q, n in enumerate(items):
                    here = now + float(costs[n])
                    if q >= p:
                        reach(j + 1, q + 1, here + PLANNED + SKIPPED * (q - p), (k, p, n, Place.PLANNED))
                    else:
                        reach(j + 1, p, here + (AGAIN if q == p - 1 else EARLIER), (k, p, n, Place.AGAIN))
                if other is not None:
                    reach(j + 1, p, now + float(costs[other]) + UNPLANNED, (k, p, other, Place.UNPLANNED))
    return _way_back(least, came, pieces, planned)


def _way_back(
    least: Floats, came: dict[tuple[int, int], tuple[int, int, int | None, Place]], pieces: int, planned: int
) -> list[tuple[int, int, int, Place]]:
    ends = least[pieces] + SKIPPED * (planned - np.arange(planned + 1))
    k, p = pieces, int(np.argmin(ends))
    way: list[tuple[int, int, int, Place]] = []
    while k > 0:
        before, p, n, place = came[k, p]
        if n is not None:
            way.append((before, k - 1, n, place))
        k = before
    return way[::-1]


def _found(
    flown: Flown,
    pieces: list[tuple[int, int]],
    costs: Floats,
    names: list[Name],
    plan: Sequence[PlannedFigure],
    at: int,
    place: Place,
    i: int,
    j: int,
) -> Found:
    last = pieces[j][1]
    first = _begins(flown, pieces[i][0], last, names[at].template.entry)
    likely = _likely(costs, names, at)
    chosen = names[at]
    planned_id = None if chosen.at is None else plan[chosen.at].id
    return Found(first, last, chosen.template.planned, planned_id, place, likely[0][1], tuple(likely[1:4]))


def _likely(costs: Floats, names: list[Name], chosen: int) -> list[tuple[PlannedFigure, float]]:
    """The chosen name first, then others; one of each figure and side."""
    total: dict[tuple[str, str], tuple[float, int]] = {}
    for n, name in enumerate(names):
        key = (name.template.key, name.template.planned.side)
        asked = float(costs[n]) + (0.0 if name.at is not None else UNPLANNED)
        if key not in total or asked < total[key][0]:
            total[key] = (asked, n)
    least = min(asked for asked, _ in total.values())
    weight = {key: (np.exp(-(asked - least) / DOUBT), n) for key, (asked, n) in total.items()}
    whole = sum(w for w, _ in weight.values())
    mine = (names[chosen].template.key, names[chosen].template.planned.side)
    rest = sorted(((w, n) for key, (w, n) in weight.items() if key != mine), key=lambda one: -one[0])
    return [
        (names[chosen].template.planned, float(weight[mine][0] / whole)),
        *((names[n].template.planned, float(w / whole)) for w, n in rest),
    ]


# How far the beginning may be moved to where speed and attitude are those of the gate (s), and what is as
# far off as what: kt, deg, s.
EARLIER_S, LATER_S = 1.0, 25.0
OFF_KT, OFF_DEG, OFF_S = 6.0, 5.0, 4.0


def _begins(flown: Flown, first: int, last: int, entry: tuple[float, float, float]) -> int:
    """The row where it is most as it is at the gate of a figure: its speed (kt), pitch and bank."""
    begins = flown.time[first]
    until = min(LATER_S, 0.7 * (flown.time[last] - begins))
    low, high = np.searchsorted(flown.time, [begins - EARLIER_S, begins + until + 1e-9])
    rows = slice(int(low), int(high))
    apart = ((flown.time[rows] - begins) / OFF_S) ** 2
    for values, wanted, wide in zip(
        (flown.ias, flown.pitch, flown.bank), entry, (OFF_KT, OFF_DEG, OFF_DEG), strict=True
    ):
        away = np.square((values[rows] - wanted) / wide)
        apart = apart + np.where(np.isfinite(away), np.minimum(away, 9.0), 0.0)
    return int(low) + int(np.argmin(apart))


def _gates(names: list[Name]) -> list[tuple[tuple[float, float, float], list[int], Floats]]:
    """Names that begin alike: how, which they are, their numbers."""
    alike: dict[tuple[float, ...], list[int]] = {}
    for n, name in enumerate(names):
        alike.setdefault(tuple(round(value / 10.0) for value in name.template.entry), []).append(n)
    return [
        (names[those[0]].template.entry, those, np.stack([names[n].template.numbers for n in those]))
        for those in alike.values()
    ]
