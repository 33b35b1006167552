"""What is known of a mean where some of what is counted is alike: spins of one flight, attempts of one
student."""

import math
from collections.abc import Hashable, Iterable
from statistics import mean


def mean_and_doubt(values: Iterable[tuple[Hashable, float]]) -> tuple[float, float]:
    """(group, value) each: the mean of all and one standard error of it. Groups are what is counted
    (cluster-robust variance, a textbook result); of fewer than two nothing is known."""
    known = list(values)
    middle = mean(value for _, value in known)
    off: dict[Hashable, float] = {}
    for group, value in known:
        off[group] = off.get(group, 0.0) + value - middle
    groups = len(off)
    if groups < 2:
        return middle, math.inf
    return middle, math.sqrt(sum(of**2 for of in off.values()) * groups / (groups - 1)) / len(known)
