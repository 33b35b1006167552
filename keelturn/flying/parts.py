"""What came of a figure that was flown: the lines of its account, its extremes, and its trace."""

from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np

from keelturn.motion import engine
from keelturn.motion.flight import Held
from keelturn.motion.legs import Floats

HEIGHT_KEEPING, BY_THE_CARD = "Height keeping", "More, by the card"


@dataclass(frozen=True, slots=True)
class Part:
    """A line of the account: height lost (m) and seconds, arrays (N,). of_recovery: after the recovery was
    begun."""

    name: str
    lost: Floats
    seconds: Floats
    of_recovery: bool


@dataclass(slots=True)
class Course:
    """What came of it, arrays (N,): parts in order; lowest and highest height (m); where the recovery began
    (m); how many m/s EAS the slowest leg was above the speed it needs (least over the legs that need one; inf
    when none does); most and least g, most while rolling (nan when nothing rolls); share: most of the lift
    limit that was used; whether the wing was held back by it; whether every leg was made. flown: engine
    summaries with the names of their rows; traces: of each pilot, in order, on one clock; none for many."""

    parts: list[Part] = field(default_factory=list)
    lowest: Floats = field(default_factory=lambda: np.empty(0))
    highest: Floats = field(default_factory=lambda: np.empty(0))
    recovery_m: Floats = field(default_factory=lambda: np.empty(0))
    margin: Floats = field(default_factory=lambda: np.empty(0))
    most_g: Floats = field(default_factory=lambda: np.empty(0))
    least_g: Floats = field(default_factory=lambda: np.empty(0))
    rolling_g: Floats = field(default_factory=lambda: np.empty(0))
    share: Floats = field(default_factory=lambda: np.empty(0))
    fastest: Floats = field(default_factory=lambda: np.empty(0))
    limited: Floats = field(default_factory=lambda: np.empty(0))
    made: Floats = field(default_factory=lambda: np.empty(0))
    end: Held | None = None
    flown: list[tuple[Floats, tuple[str, ...]]] = field(default_factory=list)
    traces: list[list[Floats]] = field(default_factory=list)
    spun: Floats | None = None

    @property
    def rows(self) -> list[Floats]:
        """Of the only pilot."""
        (rows,) = self.traces
        return rows

    @property
    def trace(self) -> Floats:
        """Of the only pilot, (R, ROW_COLUMNS)."""
        return np.vstack([rows[:, : engine.ROW_COLUMNS] for rows in self.rows])

    def goes_on(self, traces: Sequence[Floats]) -> None:
        """The next piece of each pilot's trace, its clock begun anew."""
        if not self.traces:
            self.traces = [[] for _ in traces]
        for before, rows in zip(self.traces, traces, strict=True):
            rows[:, engine.R_TIME] += before[-1][-1, engine.R_TIME] if before else 0.0
            before.append(rows)
