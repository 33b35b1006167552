"""What one student loses against the population, learnt from attempts that were debriefed.

An attempt counts as its *deviation*: where its loss lies among those of the population's pilots for that
figure, in that aircraft, on that day, as the normal deviate of that place (what half of them stay within is
0, what 19 in 20 stay within 1.645). Deviations of a figure are a school's mean, plus the student, plus the
student at this figure, plus the attempt: a hierarchical normal model. The student's two parts drift, so that
what was flown long ago says less; of a student of whom nothing is known the population itself is left.

Source: normal scores (van der Waerden); Gaussian process regression with an exponential covariance and known
variances, a textbook result; the school's variances by the method of moments, each drawn to the usual ones
(all from memory). How far deviations vary between students, the drift and what a take-over counts as: common
practice, no published source. Held to simulated students of known truth in tests/core/test_own.py."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from keelturn.motion.legs import Floats

# Of a normal form: what 19 in 20 stay below.
IN_20 = 1.645
# Days after which a third of what was known is left (1/e).
DRIFT_DAYS = 180.0
# A student's latest attempts that are looked at, and how far beyond the population one counts at most.
LATEST, FURTHEST = 80, 6.0
# The deviates at which the population's losses are kept, from one in 20 to 19 in 20.
DEVIATES = (-IN_20, -1.0, -0.5, 0.0, 0.5, 1.0, IN_20)
# A figure in which the population's losses lie closer together than this (ft, from one in 20 to 19 in 20) has
# no deviations: its height is not at stake.
LEAST_SPREAD_FT = 20.0
# Losses no further apart are the same: what many pilots share (none, mostly) is the middle of their places.
SAME_FT = 1.0
# How many attempts, groups of them, or students the usual variances and a mean of none are worth.
PRIOR_ATTEMPTS, PRIOR_GROUPS, PRIOR_MEAN = 60, 30, 0.3
# What the school's spread from attempt to attempt is worth beside a student's own, and that beside the
# student's at one figure, in attempts.
PRIOR_OWN, PRIOR_AT_FIGURE = 15.0, 6.0


@dataclass(frozen=True, slots=True)
class Deviation:
    """Of one attempt at a figure (its key), on a day (date.toordinal)."""

    figure: str
    day: int
    value: float


@dataclass(frozen=True, slots=True)
class Shares:
    """Variances of deviations: between students, of a student between figures, between attempts. The
    usual ones come to 1, the population's."""

    student: float = 0.25
    figure: float = 0.15
    attempt: float = 0.60

    @property
    def known(self) -> float:
        """What attempts can tell of a student."""
        return self.student + self.figure


USUAL = Shares()


@dataclass(frozen=True, slots=True)
class Population:
    """A school's: mean deviation by figure, where it has attempts, and variances. attempts: how many it was
    learnt from."""

    means: Mapping[str, float] = field(default_factory=dict)
    shares: Shares = USUAL
    attempts: int = 0


@dataclass(frozen=True, slots=True)
class OwnLoss:
    """One student at one figure, in deviations: usual, the middle of what is likely; unsure, the standard
    deviation of that middle; varies, that from attempt to attempt. attempts: at this figure."""

    usual: float
    unsure: float
    varies: float
    attempts: int

    @property
    def in_20(self) -> float:
        """What the next attempt stays below 19 times in 20."""
        return self.usual + IN_20 * float(np.hypot(self.unsure, self.varies))


def at_stake(lies: Sequence[float]) -> bool:
    """Whether this figure has deviations. lies: ft beyond the likely loss that the population's pilots lose,
    at DEVIATES."""
    return bool(lies) and lies[-1] - lies[0] >= LEAST_SPREAD_FT


def deviation_of(beyond_ft: float, lies: Sequence[float], taken_over: bool) -> float | None:
    """beyond_ft: lost beyond the likely loss. lies: as of at_stake; None where it is not. One that was taken
    over counts as no less than the loss 19 times in 20: it would have been more."""
    if not at_stake(lies):
        return None
    shared = [at for at, ft in zip(DEVIATES, lies, strict=True) if abs(ft - beyond_ft) < SAME_FT]
    if len(shared) > 1:
        found = 0.5 * (shared[0] + shared[-1])
    else:
        found = _along(beyond_ft, _rising(lies), np.array(DEVIATES))
    return float(np.clip(max(found, IN_20) if taken_over else found, -FURTHEST, FURTHEST))


def beyond_at(deviation: float, lies: Sequence[float]) -> float:
    """ft beyond the likely loss: `deviation_of` the other way round."""
    return _along(deviation, np.array(DEVIATES), _rising(lies))


def _rising(lies: Sequence[float]) -> Floats:
    """From each to the next at least a little; 19 in 20 as they are."""
    found: Floats = np.maximum.accumulate(lies) + 0.1 * SAME_FT * (np.array(DEVIATES) - IN_20)
    return found


def _along(x: float, xs: Floats, ys: Floats) -> float:
    """Linear between the points and on beyond the first and the last."""
    at = int(np.clip(np.searchsorted(xs, x) - 1, 0, len(xs) - 2))
    return float(ys[at] + (x - xs[at]) * (ys[at + 1] - ys[at]) / (xs[at + 1] - xs[at]))


def population_of(students: Iterable[Sequence[Deviation]]) -> Population:
    """Of a school. students: each one's deviations, oldest first."""
    groups: dict[str, dict[int, list[float]]] = {}
    steps = list[float]()
    for at, seen in enumerate(students):
        for one in seen:
            groups.setdefault(one.figure, {}).setdefault(at, []).append(one.value)
    for figure in groups.values():
        for flown in figure.values():
            steps += [0.5 * (after - before) ** 2 for before, after in pairwise(flown)]
    attempt = _drawn_to(USUAL.attempt, PRIOR_ATTEMPTS, steps)
    means = {key: _mean_of(list(by_student.values()), attempt) for key, by_student in groups.items()}
    # Each student's mean at each figure, less the school's, and what of its square is the attempts'.
    levels: dict[int, list[float]] = {}
    known = list[float]()
    for key, by_student in groups.items():
        for at, flown in by_student.items():
            level = float(np.mean(flown)) - means[key]
            levels.setdefault(at, []).append(level)
            known.append(level**2 - attempt / len(flown))
    between = max(0.05, _drawn_to(USUAL.known, PRIOR_GROUPS, known))
    pairs = [one * other for of in levels.values() for i, one in enumerate(of) for other in of[:i]]
    student = float(np.clip(_drawn_to(USUAL.student, PRIOR_GROUPS, pairs), 0.0, between))
    counted = sum(len(flown) for by_student in groups.values() for flown in by_student.values())
    return Population(means, Shares(student, between - student, attempt), counted)


def _drawn_to(usual: float, worth: float, found: Sequence[float]) -> float:
    """The mean of what was found, with the usual one counted so many times."""
    return (worth * usual + float(np.sum(found))) / (worth + len(found))


def _mean_of(by_student: Sequence[Sequence[float]], attempt: float) -> float:
    """Of a figure, each student by how much theirs tells; drawn to none."""
    weights = np.array([1.0 / (USUAL.known + attempt / len(flown)) for flown in by_student])
    means = np.array([np.mean(flown) for flown in by_student])
    return float((weights @ means) / (weights.sum() + 1.0 / PRIOR_MEAN**2))


def own_losses(
    figures: Iterable[str], seen: Sequence[Deviation], population: Population, today: int
) -> dict[str, OwnLoss]:
    """By figure, on a day (date.toordinal). seen: this student's, of whatever figure, oldest first."""
    seen, asked, shares = seen[-LATEST:], list(figures), population.shares
    own = [sum(one.figure == key for one in seen) for key in asked]
    means = np.array([population.means.get(key, 0.0) for key in asked])
    if not seen:
        return {
            key: OwnLoss(float(mean), shares.known**0.5, shares.attempt**0.5, 0)
            for key, mean in zip(asked, means, strict=True)
        }
    off = np.array([one.value - population.means.get(one.figure, 0.0) for one in seen])
    days = np.array([one.day for one in seen], dtype=float)
    flown = np.array([one.figure for one in seen])
    among = _alike(flown, flown, days, days, shares)
    toward = _alike(np.array(asked), flown, np.full(len(asked), float(today)), days, shares)
    solved = np.linalg.solve(among + shares.attempt * np.eye(len(seen)), np.column_stack([off, toward.T]))
    usual = means + toward @ solved[:, 0]
    unsure = np.sqrt(np.maximum(0.0, shares.known - np.einsum("ij,ji->i", toward, solved[:, 1:])))
    varies = _own_attempts(asked, flown, off, among, shares)
    return {
        key: OwnLoss(float(u), float(s), v**0.5, n)
        for key, u, s, v, n in zip(asked, usual, unsure, varies, own, strict=True)
    }


Names = NDArray[np.str_]


def _alike(here: Names, there: Names, days: Floats, other_days: Floats, shares: Shares) -> Floats:
    """Covariance of what a student is at these figures on these days with that at others."""
    same = here[:, None] == there[None, :]
    apart = np.abs(days[:, None] - other_days[None, :])
    found: Floats = (shares.student + shares.figure * same) * np.exp(-apart / DRIFT_DAYS)
    return found


def _own_attempts(
    asked: Sequence[str], flown: Names, off: Floats, among: Floats, shares: Shares
) -> list[float]:
    """This student's own variances from attempt to attempt, of each figure asked: what is left of theirs
    beside what is expected there, drawn to all figures' of the student, and that to the school's."""
    left = shares.attempt * np.linalg.inv(among + shares.attempt * np.eye(len(off)))
    rest, expected = (left @ off) ** 2, shares.attempt * np.diag(left)

    def drawn(usual: float, worth: float, which: NDArray[np.bool_]) -> float:
        many = int(which.sum())
        if many == 0:
            return usual
        found = shares.attempt * float(rest[which].sum() / expected[which].sum())
        return (worth * usual + many * found) / (worth + many)

    everywhere = drawn(shares.attempt, PRIOR_OWN, np.ones(len(off), dtype=bool))
    return [drawn(everywhere, PRIOR_AT_FIGURE, flown == key) for key in asked]
