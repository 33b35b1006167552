"""Which figures were flown, where each begins and ends: the flight is cut where it is level or passes through
level, every run of a few pieces is a candidate, and the cheapest way through all of them, along the plan, is
what was flown (dynamic programming).

Costs are ours, set on one half of the simulated flights and held by the other (docs/model.md)."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.motion.legs import Floats
from keelturn.recording.cleaning import Cleaned
from keelturn.recording.flown import BANK_DEG, PITCH_DEG, Flown, slope, stretches
from keelturn.recording.likeness import Turning, catalogue, likeness, of_plan, off, stall_kt
from keelturn.recording.taps import TappedGo
from keelturn.recording.ways import MOST_PIECES, InPlan, Name, Ways
from keelturn.units import KT, SPEED


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
    place: InPlan
    sure: float
    others: tuple[tuple[PlannedFigure, float], ...]


# Level again for less than this is not level again; restless for less is a gust (s).
LEVEL_S, RESTLESS_S = 0.5, 0.7
# Passing through level: within these it can be cut there, this long after the last cut.
PASSING_PITCH_DEG, PASSING_BANK_DEG, BETWEEN_CUTS_S = 15.0, 20.0, 1.5
# A figure lasts so long at most, and is level in between for so long.
LONGEST_S, LEVEL_INSIDE_S = 200.0, 9.0
# A planned figure to the other side, or like one that is flown with a fault or more turns.
OTHER_SIDE, OFF_PLAN = 2.0, 0.5
# What a piece costs that is nothing: at all, for each degree of bank and pitch beyond these, and for each
# ft/s of sink beyond a descent's.
NOTHING, A_DEG, A_FPS = 1.0, 1.0 / 4.0, 1.0 / 4.0
LEFT_BANK_DEG, LEFT_PITCH_DEG, DESCENT_FPS = 14.0, 17.0, 30.0
# How dear it is to be unlike, as a share of the distance.
LIKE = 0.45
# What is noted there speaks so much for its name and against the others; begun so long (s) before at most.
TAPPED, TAPPED_S = 2.0, 4.0
# Names that cost so much more are e times less likely.
DOUBT = 1.0
# Slower than these shares of stall and climb speed, something is being flown.
SLOW_VS, SLOW_CLIMB = 1.36, 0.95
# A straight descent this steady for so long is no part of what comes after it.
STEADY_G, STEADY_FPS, STEADY_FPS2, STEADY_S = 0.12, 35.0, 4.0, 4.0


def find(cleaned: Cleaned, plan: Sequence[PlannedFigure], conditions: Conditions) -> tuple[Found, ...]:
    """plan: what was briefed, in its order; may be empty."""
    return Candidates.of(cleaned, plan, conditions).found()


@dataclass(slots=True)
class Candidates:
    """Every run of pieces that a figure could be, of which what was flown is chosen: once, and again where it
    is known by then when something was tapped."""

    flown: Flown
    plan: Sequence[PlannedFigure]
    pieces: list[tuple[int, int]]
    names: list[Name]
    spans: dict[tuple[int, int], Floats]

    @classmethod
    def of(cls, cleaned: Cleaned, plan: Sequence[PlannedFigure], conditions: Conditions) -> "Candidates":
        pieces = _pieces(cleaned.flown, cleaned.holes, conditions)
        names = _names(plan, conditions)
        spans = _spans(cleaned.flown, pieces, names, stall_kt(conditions))
        return cls(cleaned.flown, plan, pieces, names, spans)

    def found(self, tapped: Sequence[TappedGo] = ()) -> tuple[Found, ...]:
        """tapped: on the recording's own time."""
        nothing = np.array([_nothing(self.flown, first, last) for first, last in self.pieces])
        spans = self._by_taps(tapped) if tapped else self.spans
        ways = Ways(len(self.pieces), len(self.plan), spans, nothing, self.names)
        found: list[Found] = []
        for i, j, n, place in ways.cheapest():
            chosen, last = self.names[n], self.pieces[j][1]
            name = None if chosen.at is None else self.plan[chosen.at].id
            # Flown after one that stands later in the plan, it is none of that flown again.
            if place == InPlan.AGAIN and all(one.planned_id != name for one in found):
                place = InPlan.PLANNED
            likely = _likely(ways, i, j, n)
            found.append(
                Found(
                    _begins(self.flown, self.pieces[i][0], last, chosen.template.entry),
                    last,
                    chosen.template.planned,
                    name,
                    place,
                    likely[0][1],
                    tuple(likely[1:4]),
                )
            )
        return tuple(found)

    def _by_taps(self, tapped: Sequence[TappedGo]) -> dict[tuple[int, int], Floats]:
        """What they cost where it was noted what was begun, and when."""
        begun = np.array([go.begins_s for go in tapped])
        ids = {planned.id for planned in self.plan}
        off = []
        for go in tapped:
            noted = [
                self.plan[name.at].id == go.planned
                if name.at is not None
                else go.planned not in ids and name.template.key == go.key
                for name in self.names
            ]
            off.append(np.where(noted, -TAPPED, TAPPED))
        time = self.flown.time
        found = {}
        for (i, j), costs in self.spans.items():
            from_s, to_s = time[self.pieces[i][0]] - TAPPED_S, time[self.pieces[j][1]]
            inside = np.flatnonzero((begun >= from_s) & (begun <= to_s))
            more = off[inside[0]] + TAPPED * (len(inside) - 1) if len(inside) else 0.0
            found[i, j] = costs + more
        return found


def _spans(
    flown: Flown, pieces: list[tuple[int, int]], names: list[Name], stall: float
) -> dict[tuple[int, int], Floats]:
    """What each name costs, (N,), by first and last piece."""
    turning = Turning.of(flown)
    costs = np.array([name.costs for name in names])
    gates = _gates(names)
    spans: dict[tuple[int, int], Floats] = {}
    for i, j in _runs(flown, pieces):
        first, last = pieces[i][0], pieces[j][1]
        costing = np.full(len(names), np.inf)
        likes: dict[int, Floats] = {}
        for entry, those, table in gates:
            begins = _begins(flown, first, last, entry)
            if begins not in likes:
                likes[begins] = likeness(flown, turning, begins, last, stall)
            costing[those] = off(likes[begins], table)
        spans[i, j] = LIKE * costing + costs
    return spans


def _names(plan: Sequence[PlannedFigure], conditions: Conditions) -> list[Name]:
    """The plan's figures, then the catalogue's."""
    found = [
        Name(
            known,
            at,
            OTHER_SIDE * (known.planned.side != planned.side) + OFF_PLAN * known.off_plan,
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
    for first, last in stretches(restless):
        calmer = [at for a, b in stretches(steady) for at in (a, b) if first < at < last]
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


def _without_short(mask: NDArray[np.bool_], rows: int) -> NDArray[np.bool_]:
    kept = mask.copy()
    for first, last in stretches(mask):
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
    for a, b in stretches(near):
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


def _likely(ways: Ways, i: int, j: int, chosen: int) -> list[tuple[PlannedFigure, float]]:
    """The chosen name first, then others; one of each figure and side."""
    names = ways.names
    whole = ways.by_name(i, j)
    least = min(costs for costs, _ in whole.values())
    weight = {key: (float(np.exp(-(costs - least) / DOUBT)), n) for key, (costs, n) in whole.items()}
    every = sum(w for w, _ in weight.values())
    mine = (names[chosen].template.key, names[chosen].template.planned.side)
    rest = sorted((one for key, one in weight.items() if key != mine), key=lambda one: -one[0])
    return [
        (names[chosen].template.planned, weight[mine][0] / every),
        *((names[n].template.planned, w / every) for w, n in rest),
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
