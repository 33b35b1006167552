"""What a hand noted in flight, in time: by how much the recorder's clock is off that of the taps, and which
go is which.

How near is the same moment, and how many have to be, is common practice, no published source."""

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from keelturn.figures.figure import Side
from keelturn.figures.planned import PlannedFigure
from keelturn.motion.legs import Floats
from keelturn.noting.entry import Entry, What

HEIGHTS = (What.START, What.RECOVER, What.LOWEST, What.LEVEL)
# Of the same go, begun and tapped so near each other (s).
NEAR_S = 6.0
# No flight has more goes.
MOST_GOES = 60
# The clock is known by so many goes at least, and by this share of those that were tapped or were found,
# whichever are fewer.
LEAST_GOES, LEAST_SHARE = 2, 0.6


@dataclass(frozen=True, slots=True)
class Tap:
    """A height noted in flight. at_s: seconds since 1970 by the server's clock, or on the recorder's own once
    the taps are laid over it."""

    what: What
    at_s: float


@dataclass(frozen=True, slots=True)
class TappedGo:
    """A go as a hand noted it while it was flown. planned: the figure's id in the plan, as it was noted."""

    attempt: str
    planned: str
    key: str
    side: Side
    taps: tuple[Tap, ...]

    @property
    def begins_s(self) -> float:
        return self.taps[0].at_s

    def is_of(self, figure: PlannedFigure, planned_id: str | None) -> bool:
        """Whether it was noted of this figure of the plan; or, where it was not planned, of one like it."""
        if planned_id is not None:
            return self.planned == planned_id
        return (self.key, self.side) == (figure.key, figure.side)

    def later(self, seconds: float) -> "TappedGo":
        moved = tuple(Tap(tap.what, tap.at_s + seconds) for tap in self.taps)
        return TappedGo(self.attempt, self.planned, self.key, self.side, moved)


@dataclass(frozen=True, slots=True)
class TapClock:
    """later_s: seconds from the recorder's own time to the taps' clock; spread_s: half of the goes are nearer
    than this to their taps; goes: how many were near, of how many; on: them all on the recorder's time."""

    later_s: float
    spread_s: float
    goes: int
    of: int
    on: tuple[TappedGo, ...]


def tapped_goes(entries: Iterable[Entry]) -> tuple[TappedGo, ...]:
    """In the order flown. What corrects something was not noted while it was flown, and a go without its
    start is none."""
    heights: dict[str, dict[What, float]] = {}
    figures: dict[str, tuple[float, PlannedFigure]] = {}
    for entry in entries:
        if entry.source != "hand" or entry.value is None:
            continue
        at_s = entry.noted_at.timestamp()
        if isinstance(entry.value, PlannedFigure):
            if entry.attempt not in figures or at_s >= figures[entry.attempt][0]:
                figures[entry.attempt] = at_s, entry.value
        elif entry.what in HEIGHTS and not entry.replaces:
            of_it = heights.setdefault(entry.attempt, {})
            of_it[entry.what] = min(of_it.get(entry.what, at_s), at_s)
    goes = [
        TappedGo(
            attempt,
            figure.id,
            figure.key,
            figure.side,
            tuple(Tap(what, noted[what]) for what in HEIGHTS if what in noted),
        )
        for attempt, (_, figure) in figures.items()
        if What.START in (noted := heights.get(attempt, {}))
    ]
    return tuple(sorted(goes, key=lambda go: (go.begins_s, go.attempt)))[:MOST_GOES]


def clock_by_taps(goes: Sequence[TappedGo], begins_s: Sequence[float]) -> TapClock | None:
    """begins_s: of the figures that were found, ascending. Every distance between a go and a figure is tried;
    the one at which most goes are near a figure of their own is taken. None where it is too few."""
    tapped, found = np.array([go.begins_s for go in goes]), np.asarray(begins_s, dtype=float)
    fewer = min(len(tapped), len(found))
    if fewer < LEAST_GOES:
        return None
    best: tuple[int, float, float] | None = None
    for later in sorted({round(float(a - b), 3) for a in tapped for b in found}):
        off = np.array([a - b - later for a, b in _pairs(tapped - later, tapped, found)])
        if not len(off):
            continue
        middle = float(np.median(off))
        spread = float(np.median(np.abs(off - middle)))
        if best is None or (len(off), -spread) > (best[0], -best[2]):
            best = len(off), later + middle, spread
    if best is None or best[0] < max(LEAST_GOES, LEAST_SHARE * fewer):
        return None
    many, later_s, spread_s = best
    return TapClock(later_s, spread_s, many, len(goes), tuple(go.later(-later_s) for go in goes))


def _pairs(on: Floats, tapped: Floats, found: Floats) -> Iterator[tuple[float, float]]:
    """Each go with the nearest figure that is near, each figure once."""
    taken: set[int] = set()
    for moment, go in zip(on, tapped, strict=True):
        at = int(np.argmin(np.abs(found - moment)))
        if abs(found[at] - moment) <= NEAR_S and at not in taken:
            taken.add(at)
            yield float(go), float(found[at])
