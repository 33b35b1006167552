"""Which of the pilot's numbers decides the spread: a share of the variance for each, adding up to 100 %, and
the spread itself from enough pilots to quote it."""

import math
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.flying.pilots import RANGES, STUDENT, Pilot
from keelturn.margins.fan import fan_of, moving_of
from keelturn.motion.legs import Floats
from keelturn.units import FT

TOGETHER = "Acting together"
# 99 in 100 is quoted only from this many.
QUOTED = 10_000


@dataclass(frozen=True, slots=True)
class Share:
    number: str
    label: str
    share: float


@dataclass(frozen=True, slots=True)
class Losses:
    """Feet: the middle pilot, 19 in 20, 99 in 100 (None where that many do not get out of it); how many never
    do; and what decides the spread of the others, largest share first, adding up to 1."""

    median_ft: float | None
    p95_ft: float | None
    p99_ft: float | None
    pilots: int
    never_out: int
    shares: tuple[Share, ...]


def losses(
    planned: PlannedFigure, conditions: Conditions, pilot: Pilot = STUDENT, pilots: int = QUOTED
) -> Losses:
    """The figure flown by many of these pilots, start to lowest point. Raises ValueError as `fly` does."""
    fan = fan_of(planned, conditions, pilot, moving_of(planned, conditions, pilot), pilots)
    feet, numbers = fan.lost / FT, fan.drawn
    median, p95, p99 = (
        None if math.isinf(found := fan.lost_within(share)) else found / FT for share in (50.0, 95.0, 99.0)
    )
    labels = {key: reach.label for key, reach in RANGES.items()}
    out = ~np.isnan(feet)
    shares = (
        shares_of(feet[out], {name: values[out] for name, values in numbers.items()}, labels)
        if out.any()
        else ()
    )
    return Losses(median, p95, p99, pilots, int((~out).sum()), shares)


def shares_of(lost: Floats, numbers: Mapping[str, Floats], labels: Mapping[str, str]) -> tuple[Share, ...]:
    """Share of the variance of `lost` (N,) that each number (N,) explains on its own.

    The loss is fitted by a sum of one second-degree polynomial for each number (the numbers are drawn
    independently); the share is the covariance of the loss with that number's polynomial over the variance
    (Xu and Gertner 2008, from memory). What the sum leaves is the share of numbers acting together. Shares
    are not negative and add up to 1."""
    varying = {
        key: np.asarray(value) for key, value in numbers.items() if key in labels and np.ptp(value) > 0
    }
    spread = float(np.var(lost))
    if spread <= 1e-12 or not varying:
        return ()
    columns, centred = [], lost - lost.mean()
    for value in varying.values():
        z = (value - value.mean()) / value.std()
        columns += [z, z**2 - 1.0]
    design = np.stack(columns, axis=1)
    design = design - design.mean(axis=0)
    fitted, *_ = np.linalg.lstsq(design, centred, rcond=None)
    raw = [
        float(np.mean(centred * (design[:, 2 * i : 2 * i + 2] @ fitted[2 * i : 2 * i + 2]))) / spread
        for i in range(len(varying))
    ]
    kept = [max(0.0, share) for share in raw]
    rest = max(0.0, 1.0 - sum(kept))
    total = sum(kept) + rest
    found = [Share(key, labels[key], share / total) for key, share in zip(varying, kept, strict=True)]
    found.append(Share("together", TOGETHER, rest / total))
    return tuple(sorted(found, key=lambda share: -share.share))
