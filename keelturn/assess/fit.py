"""The pilot's numbers fitted to what was recorded: bounded least squares on the core's own flight of the
figure, held by what pilots usually do, with the doubt of each number.

How far the usual holds, and by how much the doubt is widened, is ours, set on one half of the simulated
flights and held by the other (`make score`, docs/model.md)."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

import numpy as np
from scipy.optimize import lsq_linear

from keelturn.assess.compared import BEGUN, NOISE, RECORDER, SHARPLY_S, SLOWLY_S, Compared, Flight
from keelturn.figures.catalogue import figure_of
from keelturn.figures.figure import Family
from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.flying.pilots import RANGES, STUDENT
from keelturn.flying.trace import axes
from keelturn.motion.legs import Floats
from keelturn.recording.cleaning import Cleaned
from keelturn.recording.finding import Found
from keelturn.recording.flown import turned_deg
from keelturn.recording.measuring import Measured

# A number is held this many of its deviations around the usual; those that do not vary from one usual pilot
# to the next are held by these.
WIDER = 2.0
HELD: Mapping[str, float] = {
    "aileron_in": 0.15,
    "aileron_recovery": 0.15,
    "power_left": 0.12,
    "close_s": 0.3,
    "rudder_held_s": 0.2,
    "stick_held_s": 0.15,
    "gives_up_s": 0.15,
    "top_rudder": 0.1,
    "on_its_back": 0.25,
    "scoop_g": 0.25,
}
# What is this many deviations away is no longer pulled back harder; points this many times the noise off are
# wild.
LETS_GO, WILD = 2.0, 3.0
# A column is not finer than this share of what it is taken to be; beyond so many times it the fit is poor.
FINEST, POOR = 0.5, 4.0
# As far as this g is poor where it stays apart together.
POOR_ALONG, ALONG, FEW = 3.2, 0.6, 8
# The doubt is so much wider than the least squares say, and never less than this share of how the number is
# held. A number is told by the recording when its doubt is less than this share.
DOUBT, LEAST_DOUBT, TOLD = 2.0, 0.08, 0.6
# When an upset was handed over is not seen to better than this (s): found on flights of another library
# (`make score`), where an instructor brings it into its attitude by hand.
HANDED_OVER_S = 0.45
# At first everything is taken to be so much coarser, so that no step leaps; steps at most then, and before
# and after the noise is known; a gain of less than this in the sum of squares is none.
COARSE, COARSE_STEPS, STEPS, AGAIN_STEPS, GAIN = 5.0, 8, 10, 8, 0.05
# So many beginnings are tried until one comes as near as this many times the noise.
TRIES, NEAR = 3, 2.0
# When it may have begun, tried one after the other (s): what is slow to begin is found early.
SHIFTS_S, NEAR_S = np.arange(-2.0, 8.1, 0.25), np.arange(-1.0, 1.1, 0.25)
# How far a number is moved to see what it does, in how it is held.
NUDGE = 0.05


@dataclass(frozen=True, slots=True)
class Number:
    """doubt: one standard deviation. told: by the recording, not by what is usual."""

    value: float
    doubt: float
    told: bool


@dataclass(frozen=True, slots=True)
class Fit:
    """numbers: those of flying/pilots.py that the figure asks for, in the order of covariance (N, N); good:
    whether the flight by these numbers comes near enough to be believed; off_ft: how far its heights stay
    away (root mean square); begins_s: on the recording's clock; rows: the flight (flying.trace.COLUMNS);
    planned: the figure as it was begun."""

    compared: Compared
    numbers: Mapping[str, Number]
    covariance: Floats
    good: bool
    off_ft: float
    begins_s: float
    rows: Floats
    planned: PlannedFigure

    @property
    def pilot(self) -> dict[str, float]:
        return {name: number.value for name, number in self.numbers.items()}


@dataclass(slots=True)
class _Search:
    """Numbers of the pilot, of how it was begun, and of the recorder, as vectors (M,): usual, how they are
    held, least, most."""

    compared: Compared
    names: tuple[str, ...]
    begun: tuple[str, ...]
    recorder: tuple[str, ...]
    usual: Floats
    held: Floats
    least: Floats
    most: Floats
    last: tuple[bytes, Flight] | None = None

    @classmethod
    def of(cls, compared: Compared) -> "_Search":
        names = _moving(compared)
        absent = {"ias_lag_s": "ias", "g_off": "g"}
        recorder = tuple(
            name
            for name in RECORDER
            if (absent.get(name) or "height") in compared.seen
            and (name != "heading_off_deg" or {"axes", "turned"} & compared.seen.keys())
        )
        begun = tuple(name for name in BEGUN if name in figure_of(compared.planned.key).parameters)
        off = compared.begins_off() if begun else {}
        rows = [
            *((STUDENT[name].usual, held(name), RANGES[name].least, RANGES[name].most) for name in names),
            *((float(np.clip(off.get(name, 0.0), *BEGUN[name][2:])), *BEGUN[name][1:]) for name in begun),
            *(RECORDER[name] for name in recorder),
        ]
        figure, at = figure_of(compared.planned.key), len(names) + len(begun) + recorder.index("shift_s")
        if figure.upset:
            rows[at] = (0.0, *SHARPLY_S)
        elif figure.situation in ("spin", "stall") or figure.family == Family.COORDINATION:
            rows[at] = (0.0, *SLOWLY_S)
        return cls(compared, names, begun, recorder, *np.array(rows).T)

    @property
    def shift(self) -> int:
        """Where the number stands that says when it began."""
        return len(self.names) + len(self.begun) + self.recorder.index("shift_s")

    def begun_off(self, x: Floats) -> dict[str, float]:
        first = len(self.names)
        return dict(zip(self.begun, x[first : first + len(self.begun)].tolist(), strict=True))

    def flown(self, x: Floats) -> Flight:
        """The recorder's numbers are tried without flying anew."""
        own = x[: len(self.names) + len(self.begun)].tobytes()
        if self.last is None or self.last[0] != own:
            usual = {name: number.usual for name, number in STUDENT.items()}
            pilot = usual | dict(zip(self.names, x.tolist(), strict=False))
            self.last = own, self.compared.flown(pilot, self.begun_off(x))
        return self.last[1]

    def recorded_by(self, x: Floats) -> dict[str, float]:
        recorder = {name: usual for name, (usual, *_) in RECORDER.items()}
        first = len(self.names) + len(self.begun)
        return recorder | dict(zip(self.recorder, x[first:].tolist(), strict=True))

    def apart(self, x: Floats) -> dict[str, Floats]:
        flight, recorder = self.flown(x), self.recorded_by(x)
        return self.compared.apart(flight, recorder, self.compared.while_flown(flight, recorder))

    def off(self, x: Floats) -> Floats:
        """Everything that is to be small: how far apart, what is left out, how far from the usual."""
        return self._off(self.flown(x), x)

    def _off(self, flight: Flight, x: Floats) -> Floats:
        compared, recorder = self.compared, self.recorded_by(x)
        while_flown = compared.while_flown(flight, recorder)
        apart = compared.apart(flight, recorder, while_flown)
        return np.concatenate([*apart.values(), compared.left_out(while_flown), (x - self.usual) / self.held])

    def slopes(self, x: Floats, off: Floats) -> Floats:
        nudges = NUDGE * self.held
        nudges = np.where(x + nudges <= self.most, nudges, -nudges)
        moved = x + np.diag(nudges)
        pilots, begun = len(self.names), len(self.names) + len(self.begun)
        # The recorder's first, on the flight that there is: they need none of their own.
        there = self.flown(x)
        columns = {at: self._off(there, moved[at]) for at in range(begun, len(x))}
        usual = {name: np.array([number.usual]) for name, number in STUDENT.items()}
        numbers = usual | dict(zip(self.names, moved[:pilots, :pilots].T, strict=True))
        flights = self.compared.each_flown(numbers, self.begun_off(x))
        columns |= {at: self._off(flight, moved[at]) for at, flight in enumerate(flights)}
        columns |= {at: self.off(moved[at]) for at in range(pilots, begun)}
        return np.stack([(columns[at] - off) / nudges[at] for at in range(len(x))], axis=1)

    def cost(self, off: Floats) -> float:
        seen, usual = off[: -len(self.usual)], off[-len(self.usual) :]
        wild = WILD**2 * (np.sqrt(1.0 + (seen / WILD) ** 2) - 1.0)
        return float(wild.sum() + 0.5 * LETS_GO**2 * np.log1p((usual / LETS_GO) ** 2).sum())

    def weights(self, off: Floats) -> Floats:
        """What each counts for, so that the sum of squares has the slope of the cost."""
        seen, usual = off[: -len(self.usual)], off[-len(self.usual) :]
        each = np.concatenate([1.0 / np.sqrt(1.0 + (seen / WILD) ** 2), 1.0 / (1.0 + (usual / LETS_GO) ** 2)])
        return np.asarray(np.sqrt(each))

    def solved(self, x: Floats, steps: int) -> Floats:
        """From x to the least cost (Levenberg and Marquardt, inside the bounds)."""
        off = self.off(x)
        cost, damping = self.cost(off), 0.003
        for _ in range(steps):
            slopes = self.slopes(x, off)
            weights = self.weights(off)
            q, r = np.linalg.qr(slopes * weights[:, None])
            wanted = -q.T @ (off * weights)
            size = np.maximum(np.linalg.norm(r, axis=0), 1.0 / self.held)
            for _ in range(6):
                system = np.vstack([r, np.diag(np.sqrt(damping) * size)])
                within = np.minimum(self.least - x, -1e-12), np.maximum(self.most - x, 1e-12)
                step = lsq_linear(system, np.append(wanted, np.zeros(len(x))), within, method="bvls").x
                tried = np.clip(x + step, self.least, self.most)
                off_there = self.off(tried)
                cost_there = self.cost(off_there)
                if cost_there < cost:
                    break
                damping *= 8.0
            else:
                break
            gain, x, off, cost = cost - cost_there, tried, off_there, cost_there
            damping = max(1e-4, damping * 0.2)
            if gain < GAIN:
                break
        return x


def fit(found: Found, measured: Measured, cleaned: Cleaned, conditions: Conditions) -> Fit:
    compared = Compared.of(found, measured, cleaned, conditions)
    search = _Search.of(compared)
    x = _nearest(search, measured)
    for name, by in compared.noisy_by(search.apart(x)).items():
        compared.noise[name] *= max(FINEST, by)
    x = search.solved(x, AGAIN_STEPS)
    off = search.off(x)
    slopes = search.slopes(x, off) * search.weights(off)[:, None]
    stays = search.apart(x)
    points = len(compared.time)
    freely = np.concatenate([*(_freely(one, points) for one in stays.values()), np.ones(points + len(x))])
    slopes = slopes * freely[:, None]
    many = len(search.names)
    covariance = DOUBT**2 * np.linalg.inv(slopes.T @ slopes)[:many, :many]
    covariance += np.diag((LEAST_DOUBT * search.held[:many]) ** 2)
    told = np.sqrt(np.diag(covariance)) < TOLD * search.held[:many]
    if figure_of(compared.planned.key).upset and "delay_s" in search.names:
        late = search.names.index("delay_s")
        covariance[late, late] += HANDED_OVER_S**2
    doubt = np.sqrt(np.diag(covariance))
    numbers = {
        name: Number(float(x[at]), float(doubt[at]), bool(told[at])) for at, name in enumerate(search.names)
    }
    poor = any(_poor(compared, name, stays[name]) for name in compared.seen if name != "controls")
    return Fit(
        compared,
        numbers,
        covariance,
        not poor,
        float(np.sqrt(np.mean((stays["height"] * compared.noise["height"]) ** 2))),
        measured.begins_s + float(x[search.shift]),
        search.flown(x).rows,
        compared.begun(search.begun_off(x)),
    )


def held(name: str) -> float | None:
    """How a number is held around the usual; None for one that is never fitted."""
    return HELD.get(name) or STUDENT[name].varies * WIDER or None


def _moving(compared: Compared) -> tuple[str, ...]:
    """The pilot's numbers that change this flight at all."""
    found = []
    usual = {name: number.usual for name, number in STUDENT.items()}
    as_usual = compared.flown(usual, {}).rows
    for name in STUDENT:
        width = held(name)
        if width is None:
            continue
        other = usual[name] + 0.1 * width
        if other > RANGES[name].most:
            other = usual[name] - 0.1 * width
        rows = compared.flown({**usual, name: other}, {}).rows
        if rows.shape != as_usual.shape or not np.allclose(rows, as_usual, atol=1e-6, equal_nan=True):
            found.append(name)
    return tuple(found)


def _nearest(search: _Search, measured: Measured) -> Floats:
    """The best of what the likeliest beginnings lead to: of the first one alone where it comes near."""
    compared, best, least = search.compared, search.usual, np.inf
    compared.take_as(COARSE)
    for begin in _begins(search, measured)[:TRIES]:
        compared.take_as(COARSE)
        coarse = search.solved(begin, COARSE_STEPS)
        compared.take_as(1.0)
        x = search.solved(coarse, STEPS)
        cost = search.cost(search.off(x))
        if cost < least:
            best, least = x, cost
        if max(compared.noisy_by(search.apart(x)).values()) < NEAR:
            break
    return best


def _begins(search: _Search, measured: Measured) -> list[Floats]:
    """Where the search may begin, the likeliest first: the usual pilot or one at fault, at the time that
    suits."""
    begins: list[tuple[float, Floats]] = []
    at_shift = search.shift
    around = 0.0
    for changed in _starts(search, measured):
        x = search.usual.copy()
        for name, more in changed.items():
            if name in search.names:
                at = search.names.index(name)
                x[at] = np.clip(x[at] + more, search.least[at], search.most[at])
        best, least = search.usual, np.inf
        # The first one looks everywhere, the others near where it found it.
        for shift in SHIFTS_S if not changed else around + NEAR_S:
            x[at_shift] = np.clip(shift, search.least[at_shift], search.most[at_shift])
            off = search.off(x)
            cost = float(np.minimum(off * off, 100.0).sum())
            if cost < least:
                best, least = x.copy(), cost
        around = around if changed else float(best[at_shift])
        begins.append((least, best))
    return [x for _, x in sorted(begins, key=lambda begin: begin[0])]


def _starts(search: _Search, measured: Measured) -> Iterator[dict[str, float]]:
    yield {}
    if {"delay_s", "call_s"} & set(search.names):
        yield {"delay_s": 0.6, "call_s": 0.6}
        yield {"delay_s": 1.2, "call_s": 1.2}
    if "gap_s" in search.names:
        yield {"gap_s": -1.2}
        yield {"gap_s": 1.0}
    if "turn_error" in search.names and measured.turns is not None and "turned" in search.compared.seen:
        # As many more or fewer turns as it went round beyond the usual.
        usual = search.flown(search.usual).rows
        round_usual = np.abs(turned_deg(*axes(usual, search.compared.conditions.frame.stall))).max() / 360.0
        more = float(np.abs(search.compared.seen["turned"]).max()) / 360.0 - round_usual
        if abs(more) > 0.3:
            yield {"turn_error": more}
            yield {"turn_error": more + 0.3}


def _together(apart: Floats, points: int) -> float:
    """How much neighbours stay apart together: 0 to 1."""
    by_point = apart.reshape(points, -1)
    there = by_point[np.abs(by_point).sum(axis=1) > 0.0]
    if len(there) <= FEW:
        return 0.0
    return max(0.0, float((there[1:] * there[:-1]).sum() / max(1e-9, float((there * there).sum()))))


def _freely(apart: Floats, points: int) -> Floats:
    """How much each point counts: those that stay apart together are fewer than they seem."""
    together = min(_together(apart, points), 0.9)
    return np.full(apart.size, np.sqrt((1.0 - together) / (1.0 + together)))


def _poor(compared: Compared, name: str, apart: Floats) -> bool:
    """Far from what was recorded; of g so far all along that it is no noise, for the pull is what the fit is
    for."""
    times = compared.noise[name] / NOISE[name]
    along = name == "g" and _together(apart, len(compared.time)) > ALONG
    return times > (POOR_ALONG if along else POOR)
