"""Marks found while the flight is flown, sample by sample: where a figure begins, where its pull-out begins,
its lowest height, where it is really level again, most g, most g while rolling, top speed, turns.

Only what any recorder has is used: height, indicated speed, g, attitude and heading. What counts as level, as
sinking or as rolling is common practice, no published source; how near the marks come to those of simulated
flights is held by tests/core/test_live.py and counted by `make bench`."""

from collections.abc import Iterator
from dataclasses import dataclass, field
from enum import StrEnum
from itertools import dropwhile

import numpy as np

from keelturn.recording.flown import BANK_DEG, G_OFF, MEAN_S, PITCH_DEG, SLOPE_S, Flown


class MarkKind(StrEnum):
    BEGINS = "begins"
    RECOVERS = "recovers"
    LOWEST = "lowest"
    LEVEL = "level"
    MOST_G = "most g"
    ROLLING_G = "most g while rolling"
    FASTEST = "fastest"
    TURNS = "turns"


@dataclass(frozen=True, slots=True)
class Sample:
    """time_s: by the recorder's clock. height_ft: on the QNH it is set to. ias: in the aircraft's unit.
    Angles in degrees: nose up and right bank positive, heading of the nose."""

    time_s: float
    height_ft: float
    ias: float
    g: float
    pitch_deg: float
    bank_deg: float
    heading_deg: float


@dataclass(frozen=True, slots=True)
class Mark:
    """value: ft, g, turns, or the speed in the aircraft's unit, by its kind. figure: the how manieth since
    the recording began."""

    kind: MarkKind
    time_s: float
    value: float
    figure: int


# Level flight has been left beyond these; it is so again while it sinks less than this.
LEFT_BANK_DEG, LEFT_PITCH_DEG, LEFT_G_OFF, LEFT_SINK_FPS = 28.0, (-15.0, 25.0), 0.35, 25.0
STILL_SINK_FPS = 6.0
# So long it has to be level before it is; so long a begin is looked for before what left it.
STILL_S, BEFORE_S = 1.5, 12.0
# A silence longer than this leaves nothing to be sure of.
GAP_S = 3.0
PULL_G, ROLLING_DEG_S = 1.3, 30.0
# A spin goes round the vertical this fast at its fastest, and is one for as long as it goes round at all.
# Less than so much is a nose that swung.
SPINNING_DEG_S, ROUND_DEG_S, LEAST_TURNS = 75.0, 12.0, 0.3


@dataclass(slots=True)
class LiveFinder:
    """Fed one sample after the other; gives the marks as soon as they are sure."""

    count: int = 0
    recent: list[Sample] = field(default_factory=list)
    flying: bool = False
    began: int = 0

    def feed(self, sample: Sample) -> Iterator[Mark]:
        """Samples that are not later than the last are left out; after a silence nothing is sure of a figure
        that was being flown, and it has no marks."""
        if self.recent and sample.time_s <= self.recent[-1].time_s:
            return
        if self.recent and sample.time_s - self.recent[-1].time_s > GAP_S:
            self.recent, self.flying = [], False
        self.recent.append(sample)
        if not self.flying:
            kept = sample.time_s - BEFORE_S
            self.recent = list(dropwhile(lambda one: one.time_s < kept, self.recent))
            if _left(self.recent):
                yield self._begins()
        elif sample.time_s - self.recent[self.began].time_s > STILL_S and _still(self.recent):
            yield from self._ends()

    def _begins(self) -> Mark:
        flown = flown_of(self.recent)
        calm = np.flatnonzero(flown.level())
        self.began = int(calm[-1]) if len(calm) else 0
        self.count, self.flying = self.count + 1, True
        return Mark(
            MarkKind.BEGINS, self.recent[self.began].time_s, float(flown.height[self.began]), self.count
        )

    def _ends(self) -> Iterator[Mark]:
        """Level again since a while: everything about it is known."""
        flown = flown_of(self.recent)
        # The last moments are still, and a slope through the few samples at the end says little.
        sure = flown.time < flown.time[-1] - SLOPE_S / 2.0
        restless = np.flatnonzero(~flown.level() & sure)
        level = int(restless[-1]) + 1 if len(restless) else 0
        self.flying = False
        if level <= self.began:
            return
        for kind, at, value in marks_of(flown, self.began, level):
            yield Mark(kind, float(flown.time[at]), value, self.count)
        self.recent = self.recent[level:]


def _left(recent: list[Sample]) -> bool:
    """Whether the last sample is of no level flight, however briefly; sinking over the last second."""
    last = recent[-1]
    if abs(last.bank_deg) > LEFT_BANK_DEG or not LEFT_PITCH_DEG[0] < last.pitch_deg < LEFT_PITCH_DEG[1]:
        return True
    g = [one.g for one in recent if one.time_s > last.time_s - MEAN_S]
    return abs(sum(g) / len(g) - 1.0) > LEFT_G_OFF or _sink(recent, 1.0) > LEFT_SINK_FPS


def _still(recent: list[Sample]) -> bool:
    last = recent[-1].time_s
    since = [one for one in recent if one.time_s > last - STILL_S]
    calm = all(abs(s.bank_deg) < BANK_DEG and PITCH_DEG[0] < s.pitch_deg < PITCH_DEG[1] for s in since)
    g = sum(one.g for one in since) / len(since)
    return calm and abs(g - 1.0) < G_OFF and _sink(recent, STILL_S) < STILL_SINK_FPS


def _sink(recent: list[Sample], seconds: float) -> float:
    """Feet per second downwards over the last seconds; 0 where there are too few of them."""
    last = recent[-1].time_s
    there = [one for one in recent if one.time_s > last - seconds]
    if len(there) < 3 or there[-1].time_s - there[0].time_s < seconds / 2.0:
        return 0.0
    half = len(there) // 2
    first, second = there[:half], there[-half:]
    higher = sum(s.height_ft for s in first) / half - sum(s.height_ft for s in second) / half
    return higher / (sum(s.time_s for s in second) / half - sum(s.time_s for s in first) / half)


def flown_of(samples: list[Sample]) -> Flown:
    rows = np.array(
        [(s.time_s, s.height_ft, s.ias, s.g, s.pitch_deg, s.bank_deg, s.heading_deg) for s in samples]
    )
    return Flown.of(*rows.T)


def marks_of(flown: Flown, began: int, level: int) -> Iterator[tuple[MarkKind, int, float]]:
    """From the index where it began to that where it was level: kind, index, value."""
    whole = slice(began, level + 1)
    lowest = began + int(flown.height[whole].argmin())
    pull = pull_out(flown, began, lowest)
    if pull is not None:
        yield MarkKind.RECOVERS, pull, float(flown.height[pull])
    yield MarkKind.LOWEST, lowest, float(flown.height[lowest])
    yield MarkKind.LEVEL, level, float(flown.height[level])
    most = began + int(flown.g[whole].argmax())
    yield MarkKind.MOST_G, most, float(flown.g[most])
    rolling = np.abs(flown.rolling[whole]) > ROLLING_DEG_S
    if rolling.any():
        at = began + int(np.where(rolling, flown.g[whole], -np.inf).argmax())
        yield MarkKind.ROLLING_G, at, float(flown.g[at])
    fastest = began + int(flown.ias[whole].argmax())
    yield MarkKind.FASTEST, fastest, float(flown.ias[fastest])
    turns = turns_of(flown, began, level)
    if turns >= LEAST_TURNS:
        yield MarkKind.TURNS, level, turns


def pull_out(flown: Flown, began: int, lowest: int) -> int | None:
    """Where the last pull before the lowest height begins, nose below the horizon. The call for it comes
    earlier, and no instrument hears it."""
    pulled = (flown.g[began : lowest + 1] > PULL_G) & (flown.sink[began : lowest + 1] > 0)
    there = np.flatnonzero(pulled)
    if not len(there):
        return None
    before = np.flatnonzero(~pulled[: int(there[-1])])
    return began + (int(before[-1]) + 1 if len(before) else 0)


def turns_of(flown: Flown, began: int, level: int, spinning_deg_s: float = SPINNING_DEG_S) -> float:
    """How often it went round the vertical in one go, where some of that was as fast as a spin."""
    rate = flown.turning[began : level + 1]
    turned = rate * np.diff(flown.time[began : level + 1], prepend=flown.time[began])
    side = np.where(np.abs(rate) < ROUND_DEG_S, 0.0, np.sign(rate))
    goes = np.split(np.arange(len(rate)), np.flatnonzero(np.diff(side)) + 1)
    fast = (go for go in goes if np.abs(rate[go]).max() > spinning_deg_s)
    return max((float(abs(turned[go].sum())) / 360.0 for go in fast), default=0.0)
