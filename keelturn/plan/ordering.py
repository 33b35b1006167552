"""The order and the start heights of a flight, an assignment problem with heights: which figure stands at
which place, how high each begins, and how much is climbed in between, with the least climbing.

Solved as a mixed-integer linear program by HiGHS through scipy. What the order owes to the people (gentle
first, no push straight before a hard pull) enters as cost, not as rule: common practice, no published
source."""

import itertools
import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from keelturn.motion.legs import Floats

# Feet of climbing that a disorder is worth: a more unsettling figure one place before a gentler one; a push
# before a hard pull.
DISORDER_FT, PUSH_PULL_FT = 80.0, 600.0
SOLVE_S = 2.0
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
class Unknowns:
    """Where each unknown of the program stands: whether figure i is at place k; the start of place k; the
    climb before it; whether pair p (a push, a hard pull) stands at places k and k + 1."""

    n: int
    pairs: tuple[tuple[int, int], ...]

    @property
    def size(self) -> int:
        return self.n * (self.n + 2) + len(self.pairs) * (self.n - 1)

    def at(self, figure: int, place: int) -> int:
        return figure * self.n + place

    def start(self, place: int) -> int:
        return self.n * self.n + place

    def climb(self, place: int) -> int:
        return self.n * (self.n + 1) + place

    def together(self, pair: int, place: int) -> int:
        return self.n * (self.n + 2) + pair * (self.n - 1) + place

    def each(self, place: int, numbers: Sequence[float]) -> dict[int, float]:
        """The number of whichever figure stands at the place."""
        return {self.at(i, place): number for i, number in enumerate(numbers)}


# Entries of a row by unknown, and between what their sum must lie.
Rule = tuple[Mapping[int, float], float, float]


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
    pushed = itertools.permutations(range(n), 2)
    unknowns = Unknowns(n, tuple((i, j) for i, j in pushed if needs[i].pushes and needs[j].pulls))
    rules = list(_rules(unknowns, needs, top_ft, ground_ft))
    rows = np.zeros((len(rules), unknowns.size))
    for row, (entries, _, _) in zip(rows, rules, strict=True):
        row[list(entries)] = list(entries.values())
    most, whole = np.ones(unknowns.size), np.zeros(unknowns.size, dtype=np.uint8)
    most[unknowns.start(0) : unknowns.climb(0)] = top_ft
    most[unknowns.climb(0) : unknowns.climb(n)] = np.inf
    whole[: unknowns.start(0)] = 1
    found = milp(
        _costs(unknowns, needs),
        constraints=LinearConstraint(rows, [least for _, least, _ in rules], [m for _, _, m in rules]),
        bounds=Bounds(np.zeros(unknowns.size), most),
        integrality=whole,
        options={"time_limit": SOLVE_S, "mip_rel_gap": 0.01},
    )
    if found.x is None:
        return None
    chosen = found.x[: n * n].reshape(n, n)
    order = [int(np.argmax(chosen[:, k])) for k in range(n)]
    return order, heights_for(order, needs, top_ft)


def _costs(x: Unknowns, needs: Sequence[Needs]) -> Floats:
    """In feet of climbing. The more unsettling, the later: a small cost for standing early, with the
    place."""
    cost = np.zeros(x.size)
    for i, k in itertools.product(range(x.n), range(x.n)):
        early = (x.n - 1 - k) / max(1, x.n - 1)
        cost[x.at(i, k)] = DISORDER_FT * needs[i].unsettles * early / 4.0
    cost[x.climb(0) : x.climb(x.n)] = 1.0
    cost[x.climb(x.n) :] = PUSH_PULL_FT
    return cost


def _rules(x: Unknowns, needs: Sequence[Needs], top_ft: float, ground_ft: float) -> Iterator[Rule]:
    """One place each, one figure each; starts between the lowest start and the top; climbs make up what was
    lost; a push before a hard pull is noticed."""
    for i in range(x.n):
        yield {x.at(i, k): 1.0 for k in range(x.n)}, 1.0, 1.0
    for k in range(x.n):
        yield x.each(k, [1.0] * x.n), 1.0, 1.0
        yield {x.start(k): 1.0, **x.each(k, [-need.lowest_start_ft for need in needs])}, 0.0, np.inf
        yield {x.start(k): 1.0, **x.each(k, [need.rise_ft for need in needs])}, -np.inf, top_ft
    yield {x.climb(0): 1.0, x.start(0): -1.0}, -ground_ft, np.inf
    for k in range(1, x.n):
        arrives = {x.start(k - 1): 1.0, **x.each(k - 1, [-need.lost_ft for need in needs])}
        yield {x.climb(k): 1.0, x.start(k): -1.0, **arrives}, 0.0, np.inf
    for p, (i, j) in enumerate(x.pairs):
        for k in range(x.n - 1):
            yield {x.together(p, k): 1.0, x.at(i, k): -1.0, x.at(j, k + 1): -1.0}, -1.0, np.inf


def heights_for(order: Sequence[int], needs: Sequence[Needs], top_ft: float) -> list[float]:
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
