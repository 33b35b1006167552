"""What became of a figure, from how it moved: as intended, a spiral, the other way, flat, a secondary stall;
and what decided it.

The values are common practice, no published source; how often they are right is counted by `make score`."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from keelturn.aircraft.card import SpinKind
from keelturn.figures.catalogue import figure_of
from keelturn.flying.conditions import Conditions
from keelturn.noting.attempt import Outcome
from keelturn.recording.cleaning import Cleaned
from keelturn.recording.finding import Found
from keelturn.recording.flown import Flown
from keelturn.recording.likeness import stall_kt
from keelturn.recording.measuring import Measured
from keelturn.units import KT, SPEED

# It goes round at all; it goes round as a spin does (deg/s).
ROUND_DEG_S, SPINNING_DEG_S = 30.0, 60.0
# A spiral is so much faster than the stall (kt) while it goes round, and flies: it uses less than this of the
# lift there is.
FASTER_KT, FLIES_SHARE = 20.0, 0.85
# So long it has to fly round; where it span so far before, it was a spin that flew away; where it hardly span
# at all, it was none.
SPIRAL_S, SPUN_TURNS, LEAST_SPUN = 0.8, 0.5, 0.25
# Once it was stopped, this many turns to the other side are a spin to the other side.
OTHER_TURNS = 0.3
# A push to this with the nose this low, after it stopped, goes over the vertical.
OVER_G, OVER_DEG = -0.3, -75.0
# After the first turn the nose of a spin stands lower than this; so many turns above it are a flat one. Going
# round so far with less than OVER_G, it spins on its back.
FLAT_DEG, FIRST_TURN, FLAT_TURNS, BACK_TURNS = -25.0, 1.0, 0.75, 0.5
# What is meant to be flat, or on its back, did not become so.
MEANT: tuple[SpinKind, ...] = ("flat", "inverted", "inverted flat")
# What is meant to stall again.
SECONDARY_STALL = "stall_secondary"
# In the pull-out of a recovery, where it flew again, with less than this of the lift: all of the lift used,
# then so much g and so much of the nose gone, within so long, nose still low.
FLEW_SHARE, STALLED_SHARE, G_GONE, FELL_DEG, GONE_S, NOSE_LOW_DEG = 0.6, 0.8, 0.25, 2.0, 1.0, -5.0
# Less is no pull.
STALLED_PULL_G = 1.15


@dataclass(frozen=True, slots=True)
class Became:
    """because: the numbers that decided, in words; at_s: where on the trace."""

    outcome: Outcome
    because: str
    at_s: float


# What was flown, the stall speed (kt), the aircraft's speeds for a knot, and their unit.
Look = Callable[[Flown, float, float, str], Became | None]


def outcome_of(found: Found, measured: Measured, cleaned: Cleaned, conditions: Conditions) -> Became | None:
    """None where the recording does not tell: it needs attitude and speed, and of a spin its turns."""
    flown = cleaned.flown.between(found.first, found.last)
    if not flown.has_attitude or not np.isfinite(flown.ias).all() or not np.isfinite(flown.g).all():
        return None
    figure = figure_of(found.figure.key)
    if figure.spin and measured.turns is None:
        return None
    looks: tuple[Look, ...] = (_spiral, _other_way, _over_the_vertical) if figure.spin else ()
    if figure.spin and figure.spin not in MEANT:
        looks = (*looks, _flat, _on_its_back)
    stall = stall_kt(conditions)
    unit = conditions.card.speed_unit
    if figure.situation is not None and figure.key != SECONDARY_STALL:
        looks = (*looks, _secondary_stall)
    for look in looks:
        became = look(flown, stall, KT / SPEED[unit], unit)
        if became is not None:
            return became
    turns = "" if measured.turns is None or not figure.spin else f": {measured.turns:.1f} turns"
    return Became(Outcome.AS_INTENDED, f"{figure.name}{turns}", measured.begins_s)


def _spiral(flown: Flown, stall: float, own: float, unit: str) -> Became | None:
    """Going round, flying, and much faster than the stall, before it ever span for long."""
    fast = flown.ias > stall + FASTER_KT
    going = np.abs(flown.turning) > ROUND_DEG_S
    share = np.abs(flown.g) * (stall / np.maximum(flown.ias, 1.0)) ** 2
    spiralling = going & fast & (share < FLIES_SHARE)
    spun = _turned(flown, going & ~fast)
    if not fast.any() or spun > SPUN_TURNS or (spun > LEAST_SPUN and _seconds(flown, spiralling) < SPIRAL_S):
        return None
    at = int(np.flatnonzero(spiralling if spiralling.any() else fast)[0])
    reached = f"{flown.ias[at] * own:.0f} {unit} and {flown.g[at]:.1f} g"
    words = f"{reached} after {spun:.1f} turns: flying, not stalled"
    return Became(Outcome.SPIRAL, words, float(flown.time[at]))


def _seconds(flown: Flown, those: NDArray[np.bool_]) -> float:
    return float(np.diff(flown.time, prepend=flown.time[:1])[those].sum())


def _turned(flown: Flown, those: NDArray[np.bool_]) -> float:
    steps = np.diff(flown.time, prepend=flown.time[:1])
    return float(np.abs((flown.turning * steps)[those].sum())) / 360.0


def _goes(flown: Flown) -> Iterator[tuple[int, int, float]]:
    """Each time that it goes round to one side: first and last row, turns (right positive)."""
    side = np.where(np.abs(flown.turning) < ROUND_DEG_S, 0, np.sign(flown.turning)).astype(int)
    edges = np.flatnonzero(np.diff(side)) + 1
    steps = np.diff(flown.time, prepend=flown.time[:1])
    for first, last in zip([0, *edges], [*edges, len(side)], strict=True):
        if side[first]:
            yield int(first), int(last) - 1, float((flown.turning * steps)[first:last].sum()) / 360.0


def _other_way(flown: Flown, stall: float, own: float, unit: str) -> Became | None:
    goes = [go for go in _goes(flown) if abs(go[2]) > OTHER_TURNS]
    for (_, _, turns), (at, _, other) in zip(goes, goes[1:], strict=False):
        if turns * other < 0 and flown.ias[at] < stall + FASTER_KT:
            words = f"{abs(turns):.1f} turns one way, then {abs(other):.1f} the other"
            return Became(Outcome.OTHER_WAY, words, float(flown.time[at]))
    return None


def _flat(flown: Flown, stall: float, own: float, unit: str) -> Became | None:
    spinning = np.abs(flown.turning) > SPINNING_DEG_S
    steps = np.diff(flown.time, prepend=flown.time[:1])
    done = np.cumsum(np.where(spinning, np.abs(flown.turning) * steps, 0.0)) / 360.0
    high = spinning & (done > FIRST_TURN) & (flown.pitch > FLAT_DEG)
    turns = _turned(flown, high)
    if turns < FLAT_TURNS:
        return None
    words = f"nose {-flown.pitch[high].mean():.0f}° down through {turns:.1f} turns: flat"
    return Became(Outcome.FLAT, words, float(flown.time[np.flatnonzero(high)[0]]))


def _on_its_back(flown: Flown, stall: float, own: float, unit: str) -> Became | None:
    back = (np.abs(flown.turning) > SPINNING_DEG_S) & (flown.g < OVER_G)
    turns = _turned(flown, back)
    if turns < BACK_TURNS:
        return None
    words = f"{flown.g[back].mean():.1f} g through {turns:.1f} turns: on its back"
    return Became(Outcome.FLAT, words, float(flown.time[np.flatnonzero(back)[0]]))


def _over_the_vertical(flown: Flown, stall: float, own: float, unit: str) -> Became | None:
    spinning = np.abs(flown.turning) > SPINNING_DEG_S
    if not spinning.any():
        return None
    last = int(np.flatnonzero(spinning)[-1])
    after = (flown.g < OVER_G) & (flown.pitch < OVER_DEG)
    after[: last + 1] = False
    if after.any() and flown.g[: last + 1].mean() > 0:
        at = int(np.flatnonzero(after)[0])
        words = f"{flown.g[at]:.1f} g with the nose {-flown.pitch[at]:.0f}° down: past the vertical"
        return Became(Outcome.FLAT, words, float(flown.time[at]))
    return None


def _secondary_stall(flown: Flown, stall: float, own: float, unit: str) -> Became | None:
    lowest = int(np.argmin(flown.height))
    share = flown.g * (stall / np.maximum(flown.ias, 1.0)) ** 2
    pulled = (flown.g > STALLED_PULL_G) & (share > STALLED_SHARE) & (flown.pitch < NOSE_LOW_DEG)
    turning = np.flatnonzero(np.abs(flown.turning) > ROUND_DEG_S)
    # Only after it flew again.
    flew = (share < FLEW_SHARE) & (np.arange(len(share)) > (turning[-1] if len(turning) else 0))
    pulled[: int(np.argmax(flew)) if flew.any() else None] = False
    for at in np.flatnonzero(pulled[:lowest]):
        until = int(np.searchsorted(flown.time, flown.time[at] + GONE_S))
        gone = flown.g[at] - flown.g[at : until + 1].min()
        fell = flown.pitch[at] - flown.pitch[at : until + 1].min()
        if gone > G_GONE and fell > FELL_DEG:
            reached = f"{flown.g[at]:.1f} g at {flown.ias[at] * own:.0f} {unit}"
            words = f"{reached} was all the wing had, then it let go"
            return Became(Outcome.SECONDARY_STALL, words, float(flown.time[at]))
    return None
