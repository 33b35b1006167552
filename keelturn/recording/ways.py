"""Every way through the pieces of a flight along its plan, and the cheapest of them (dynamic programming)."""

from collections.abc import Iterator
from dataclasses import dataclass, field
from enum import StrEnum

import numpy as np

from keelturn.motion.legs import Floats
from keelturn.recording.likeness import Template

# A figure has so many pieces at most.
MOST_PIECES = 7
# What a figure costs by how it stands to the plan, and one that was planned and not flown.
PLANNED, SKIPPED, AGAIN, EARLIER, UNPLANNED = 1.0, 4.0, 1.5, 2.5, 8.0


class InPlan(StrEnum):
    """How a figure that was found stands to the plan."""

    PLANNED = "planned"
    AGAIN = "again"
    UNPLANNED = "unplanned"


@dataclass(frozen=True, slots=True)
class Name:
    template: Template
    # How manieth of the plan; None for one of the catalogue.
    at: int | None
    costs: float


# From how many of the plan are behind, to how many: what it costs besides its likeness, and how it stands.
Move = tuple[int, float, InPlan]


def _moves(at: int | None, behind: int) -> Move:
    """For a figure that is the next of the plan, a later one, one again, or none of it."""
    if at is None:
        return behind, UNPLANNED, InPlan.UNPLANNED
    if at >= behind:
        return at + 1, PLANNED + SKIPPED * (at - behind), InPlan.PLANNED
    return behind, AGAIN if at == behind - 1 else EARLIER, InPlan.AGAIN


@dataclass(slots=True)
class Ways:
    """Every way through the pieces, along the plan: each piece is nothing, or begins a run that is a figure.

    spans: of first and last piece, what each of the names would cost. least[k, p]: the cheapest way to where
    k pieces are behind, and p of the plan; left[k, p]: the cheapest from there to the end. best: of each run,
    the names that are ever taken."""

    pieces: int
    planned: int
    spans: dict[tuple[int, int], Floats]
    nothing: Floats
    names: list[Name]
    least: Floats = field(init=False)
    left: Floats = field(init=False)
    best: dict[tuple[int, int], list[int]] = field(init=False)

    def __post_init__(self) -> None:
        of: dict[int | None, list[int]] = {}
        for n, name in enumerate(self.names):
            of.setdefault(name.at, []).append(n)
        # Of the names of one figure of the plan, and of those of none, only the cheapest is ever taken.
        self.best = {
            span: [min(those, key=costs.__getitem__) for those in of.values()]
            for span, costs in self.spans.items()
        }
        shape = (self.pieces + 1, self.planned + 1)
        self.least, self.left = np.full(shape, np.inf), np.full(shape, np.inf)
        self.least[0, 0] = 0.0
        self.left[self.pieces] = SKIPPED * (self.planned - np.arange(self.planned + 1))
        for k in range(self.pieces):
            for p in range(self.planned + 1):
                for to, q, costs in self._on(k, p):
                    self.least[to, q] = min(self.least[to, q], self.least[k, p] + costs)
        for k in range(self.pieces - 1, -1, -1):
            for p in range(self.planned + 1):
                ahead = (costs + self.left[to, q] for to, q, costs in self._on(k, p))
                self.left[k, p] = min(ahead)

    def _on(self, k: int, p: int) -> Iterator[tuple[int, int, float]]:
        yield k + 1, p, float(self.nothing[k])
        for to, q, costs, *_ in self._figures(k, p):
            yield to, q, costs

    def _figures(self, k: int, p: int) -> Iterator[tuple[int, int, float, int, InPlan]]:
        for j in range(k, min(self.pieces, k + MOST_PIECES)):
            for n in self.best.get((k, j), ()):
                q, more, place = _moves(self.names[n].at, p)
                yield j + 1, q, float(self.spans[k, j][n]) + more, n, place

    def cheapest(self) -> Iterator[tuple[int, int, int, InPlan]]:
        """Runs of pieces that are figures: first and last piece, which of the names, how it stands."""
        k, p = 0, 0
        while k < self.pieces:
            on = self.nothing[k] + self.left[k + 1, p]
            figures = [
                (costs + self.left[to, q], to, q, n, place) for to, q, costs, n, place in self._figures(k, p)
            ]
            chosen = min(figures, default=None, key=lambda one: one[0])
            if chosen is None or on <= chosen[0]:
                k += 1
                continue
            _, to, q, n, place = chosen
            yield k, to - 1, n, place
            k, p = to, q

    def by_name(self, i: int, j: int) -> dict[tuple[str, str], tuple[float, int]]:
        """What the whole costs at least where this run has this name: by figure and side, with which name."""
        least = np.full(len(self.names), np.inf)
        of = {name.at for name in self.names}
        for p in range(self.planned + 1):
            moves = {at: _moves(at, p) for at in of}
            on = {at: self.least[i, p] + more + self.left[j + 1, q] for at, (q, more, _) in moves.items()}
            least = np.minimum(least, [on[name.at] for name in self.names])
        found: dict[tuple[str, str], tuple[float, int]] = {}
        for n, (name, whole) in enumerate(zip(self.names, (least + self.spans[i, j]).tolist(), strict=True)):
            key = (name.template.key, name.template.planned.side)
            if key not in found or whole < found[key][0]:
                found[key] = (whole, n)
        return found
