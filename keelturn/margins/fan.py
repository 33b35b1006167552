"""Many pilots of one figure, and the percentiles of what they lose, from few flights.

Only the numbers that move the figure are drawn, the most influential first. A third-degree polynomial fitted
to the flights tells what thousands more would lose that nobody has to fly. Two estimates come of it, which
err to opposite sides, and the percentile is the middle of them: that of the few, moved by how far theirs is
off on the polynomial (a control variate, textbook Monte Carlo; from memory); and that of the thousands on the
polynomial, each with what it leaves out of one of the few. Against 16,384 drawn over all their numbers:
tests/core/test_spread.py."""

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.flying.costs import losses_of, within
from keelturn.flying.course import fly
from keelturn.flying.pilots import PILOTS, Pilot, Who, drawn_of
from keelturn.motion.legs import Floats
from keelturn.units import FT

# What a figure that nobody gets out of is taken to lose: more than any block has.
HOPELESS_M = 3000.0
FAN = 256
# Pilots that the polynomial is asked for.
ASKED = 4096
# Numbers that have a third-degree term of their own, and that have one with each other: the most influential.
BENT, TOGETHER = 6, 8
# A flight that a number changes by less than this (m, and s) is not moved by it.
STIRS = 1e-6


@dataclass(frozen=True, slots=True)
class Fan:
    """lost, recovery: m from the start and from where the recovery begins to the lowest point, arrays (N,),
    nan for a pilot who never gets out. numbers: what was drawn, by name, in order of influence, as multiples
    of how much each varies (N, D)."""

    lost: Floats
    recovery: Floats
    names: tuple[str, ...]
    pilot: Pilot
    drawn: Mapping[str, Floats]

    def lost_within(self, times_in_100: float) -> float:
        return self._within(self.lost, times_in_100)

    def recovery_within(self, times_in_100: float) -> float:
        return self._within(self.recovery, times_in_100)

    def _within(self, lost: Floats, times_in_100: float) -> float:
        """m; inf when too many never get out."""
        plain = within(lost, times_in_100)
        if np.isnan(lost).any() or not self.names or np.ptp(lost) < 1e-9:
            return plain
        z = _multiples(self.pilot, self.names, self.drawn)
        terms = _terms(z)
        # By the normal equations: the columns are near orthogonal, and this is ten times as fast.
        gram = terms.T @ terms
        fitted = np.linalg.solve(gram + 1e-9 * np.trace(gram) * np.eye(len(gram)), terms.T @ lost)
        many = _multiples(self.pilot, self.names, drawn_of(self.pilot, ASKED, self.names))
        asked, few = _polynomial(many, fitted), terms @ fitted
        moved = plain + within(asked, times_in_100) - within(few, times_in_100)
        left_out = np.random.default_rng(0).choice(lost - few, len(asked))
        return 0.5 * (moved + within(asked + left_out, times_in_100))


def _multiples(pilot: Pilot, names: tuple[str, ...], drawn: Mapping[str, Floats]) -> Floats:
    return np.stack([(drawn[name] - pilot[name].usual) / pilot[name].varies for name in names], axis=1)


def _terms(z: Floats) -> Floats:
    """Columns of a polynomial: every square, products of two and cubes of the first."""
    first, second = np.triu_indices(min(TOGETHER, z.shape[1]), 1)
    return np.hstack([np.ones((len(z), 1)), z, z**2, z[:, first] * z[:, second], z[:, :BENT] ** 3])


def _polynomial(z: Floats, fitted: Floats) -> Floats:
    """`_terms(z) @ fitted`, without the columns."""
    many = z.shape[1]
    linear, squares, rest = np.split(fitted[1:], [many, 2 * many])
    products = np.diag(squares)
    first, second = np.triu_indices(min(TOGETHER, many), 1)
    products[first, second] = rest[: len(first)]
    bent = z[:, :BENT]
    found: Floats = fitted[0] + z @ linear + np.einsum("ij,ij->i", z @ products, z)
    return found + (bent * bent * bent) @ rest[len(first) :]


def moving_numbers(planned: PlannedFigure, conditions: Conditions, who: Who) -> tuple[str, ...]:
    """The numbers of this pilot that change this figure, the one that changes its loss most first."""
    return moving_of(planned, conditions, PILOTS[who])


def moving_of(planned: PlannedFigure, conditions: Conditions, pilot: Pilot) -> tuple[str, ...]:
    """The same for any pilot: each number is moved up and down by itself."""
    varying = [key for key, number in pilot.items() if number.varies > 0.0]
    drawn = {key: np.full(2 * len(varying) + 1, number.usual) for key, number in pilot.items()}
    for i, key in enumerate(varying):
        number = pilot[key]
        for row, by in ((2 * i + 1, 1.5), (2 * i + 2, -1.5)):
            drawn[key][row] = np.clip(number.usual + by * number.varies, number.least, number.most)
    start_m = planned.start_ft * FT
    course = fly(planned, conditions, drawn, start_m)
    seen = np.stack(
        [course.lowest, *(part.lost for part in course.parts), *(part.seconds for part in course.parts)]
    )
    off = np.abs(seen[:, 1:] - seen[:, :1]).reshape(len(seen), -1, 2).max(axis=2)
    order = np.argsort(-off[0], kind="stable")
    return tuple(varying[i] for i in order if off[:, i].max() > STIRS)


def fan_of(
    planned: PlannedFigure,
    conditions: Conditions,
    pilot: Pilot,
    names: tuple[str, ...],
    pilots: int = FAN,
) -> Fan:
    """Raises ValueError as `fly` does."""
    drawn = drawn_of(pilot, pilots, names)
    lost, recovery = losses_of(fly(planned, conditions, drawn, planned.start_ft * FT), planned.start_ft * FT)
    return Fan(lost, recovery, names, pilot, drawn)
