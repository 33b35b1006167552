"""Spins that were recorded: feet and seconds of the turns after the first, which the aircraft makes by
itself."""

import math
from dataclasses import dataclass
from datetime import date

import numpy as np

from keelturn.figures.planned import PlannedFigure
from keelturn.figures.spins import SPIN
from keelturn.flying.conditions import Conditions
from keelturn.noting.attempt import Attempt, Outcome
from keelturn.recording.flown import Flown

# A turn is looked at from the second on until the recovery begins, and so much of one has to be left. Rows
# further apart (s) do not tell which way it went round. The recovery is seen in the rotation where it is last
# as fast as this share of its fastest. Ours, held by tests on spins of known truth.
FROM_TURN, LEAST_TURNS, FURTHEST_S, SLOWER = 1.0, 0.6, 1.0 / 3.0, 0.85
# With these seen in it, power or aileron made it another spin.
ANOTHER_SPIN = ("power_late", "aileron_in")


@dataclass(frozen=True, slots=True)
class SpinFlown:
    """One that was recorded. flown: from where it was begun to where it was level again; recover_ft: where
    the recovery was begun, None where no control tells it; conditions: of that flight."""

    flight: int
    day: date
    planned: PlannedFigure
    flown: Flown
    recover_ft: float | None
    lost_ft: float
    conditions: Conditions


@dataclass(frozen=True, slots=True)
class Turns:
    """Feet and seconds of a turn, from the second on until so many had been flown."""

    feet: float
    seconds: float
    until: float


def tells_the_aircraft(attempt: Attempt) -> bool:
    """Whether the turns after the first are the aircraft's own."""
    return (
        attempt.planned.key == SPIN.key
        and attempt.to_the_end
        and attempt.outcome in (None, Outcome.AS_INTENDED)
        and not any(fault in attempt.faults for fault in ANOTHER_SPIN)
    )


def turns_flown(flown: Flown, recover_ft: float | None = None, until: float = math.inf) -> Turns | None:
    """None where they cannot be told or are too few. until: turns after which nothing is looked at."""
    if len(flown.time) < 4 or not flown.has_attitude or np.median(np.diff(flown.time)) > FURTHEST_S:
        return None
    rate = flown.turning * np.sign(flown.turning[int(np.abs(flown.turning).argmax())])
    turned = np.cumsum(rate * np.diff(flown.time, prepend=flown.time[0])) / 360.0
    last = int(np.flatnonzero(rate >= SLOWER * rate.max())[-1])
    if recover_ft is not None and (below := flown.height <= recover_ft).any():
        last = min(last, int(np.argmax(below)))
    rows = np.flatnonzero((turned >= FROM_TURN) & (turned <= until))
    rows = rows[rows <= last]
    if not len(rows) or turned[rows[-1]] - turned[rows[0]] < LEAST_TURNS:
        return None
    feet, seconds = (float(np.polyfit(turned[rows], of[rows], 1)[0]) for of in (flown.height, flown.time))
    return Turns(-feet, seconds, float(turned[rows[-1]]))
