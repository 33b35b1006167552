"""Figures that a pilot of our own flew in the six-degree-of-freedom library, level flight before and after,
with what is true of them: recordings to be read that the model did not make. Upsets of two kinds, each twice,
promptly and late; steep turns, loops and rolls."""

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from functools import partial

import numpy as np

from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.recording.table import Recording
from keelturn.units import DEG, FT, G0
from tests.flights import figure
from tests.outside.six_dof import RATE, Flight, fly
from tests.outside.six_dof_pilots import as_recorded

Now = tuple[float, float, float]
Command = tuple[float, float | None, float | None]
Pilot = Callable[[float, Now], Command]
# Level before and after (s), and in how long the wings are brought to the bank that is asked for.
BEFORE_S, AFTER_S, BANKED_S = 6.0, 6.0, 2.5
PROMPT_S, LATE_S = 0.3, 1.3
ONSET_G_S, ROLL_RAD_S = 1.5, 1.0
UPSETS = (("nose_low", (35.0, -60.0, 75.0), -30.0), ("over_banked", (105.0, -115.0, 120.0), -15.0))
LOOP_KT, ROLL_KT, LEVEL_KT, TOP_S, EASED = 130.0, 110.0, 95.0, 4.0, 0.75


@dataclass(frozen=True)
class Lesson:
    """begins_s, ends_s: on the clock of the recording; pilot: the numbers of flying/pilots.py that were
    flown, where they mean the same here; faults: by key, whether they are there; flight: the library's
    own."""

    planned: PlannedFigure
    begins_s: float
    ends_s: float
    pilot: dict[str, float]
    faults: dict[str, bool]
    flight: Flight
    recording: Recording

    @property
    def words(self) -> str:
        return " ".join([self.planned.title, *(f"{name} {value:.1f}" for name, value in self.pilot.items())])

    @property
    def is_late(self) -> bool:
        """The second of a pair."""
        return self.pilot.get("delay_s") == LATE_S

    def _rows(self) -> slice:
        first, last = np.searchsorted(self.flight.t, [self.begins_s, self.ends_s])
        return slice(int(first), int(last) + 1)

    @property
    def start_ft(self) -> float:
        return float(self.flight.height[self._rows()][0] / FT)

    @property
    def lowest_ft(self) -> float:
        return float(self.flight.height[self._rows()].min() / FT)

    @property
    def lost_ft(self) -> float:
        return self.start_ft - self.lowest_ft


@dataclass
class _Hand:
    """A pilot: when what he does begins and has ended (s), nan until then; steps: when each began."""

    begins_s: float = math.nan
    ends_s: float = math.nan
    steps: dict[str, float] = field(default_factory=dict)

    def over(self, t: float, now: Now) -> bool:
        return t > self.ends_s + AFTER_S


def _level(now: Now, path: float = 0.0) -> float:
    """g that brings the flight path to this one, wings at any bank."""
    return math.cos(now[0]) / max(0.3, math.cos(now[1])) + 2.0 * (path - now[0])


def _upset(hand: _Hand, bank_deg: float, path_deg: float, delay: float, pull: float) -> Pilot:
    """Set up by an instructor, handed over, and recovered after the delay."""
    bank, path, steps = bank_deg * DEG, path_deg * DEG, hand.steps

    def command(t: float, now: Now) -> Command:
        if t < BEFORE_S:
            return _level(now), 0.0, None
        if math.isnan(hand.begins_s):
            if now[0] > path or abs(now[1]) < abs(bank) - 5.0 * DEG:
                return 0.6, bank * min(1.0, (t - BEFORE_S) / BANKED_S), None
            hand.begins_s = t
        if t < hand.begins_s + delay:
            return math.cos(path), bank, None
        if "rolled" not in steps and abs(now[1]) > 12.0 * DEG:
            return 1.0, None, -math.copysign(ROLL_RAD_S, bank)
        steps.setdefault("rolled", t)
        if math.isnan(hand.ends_s) and now[0] < 0.0:
            return min(pull, 1.0 + ONSET_G_S * (t - steps["rolled"])), 0.0, None
        hand.ends_s = t if math.isnan(hand.ends_s) else hand.ends_s
        return _level(now, 0.05), 0.0, None

    return command


def _turn(hand: _Hand, bank_deg: float) -> Pilot:
    bank, turned = bank_deg * DEG, [0.0]

    def command(t: float, now: Now) -> Command:
        if t < BEFORE_S:
            return _level(now), 0.0, None
        hand.begins_s = BEFORE_S
        turned[0] += G0 * math.tan(now[1]) / now[2] / RATE
        if abs(turned[0]) < 2.0 * math.pi - 0.25 * abs(bank):
            return _level(now), bank * min(1.0, (t - BEFORE_S) / BANKED_S), None
        if math.isnan(hand.ends_s) and abs(now[1]) < 4.0 * DEG:
            hand.ends_s = t
        return _level(now), 0.0, None

    return command


def _loop(hand: _Hand, pull: float, bank_deg: float) -> Pilot:
    """bank_deg: that the wings have as the pull begins."""

    def command(t: float, now: Now) -> Command:
        since = t - BEFORE_S
        if since < 0.0:
            return _level(now, -0.05), bank_deg * DEG if since > -3.0 else 0.0, None
        hand.begins_s = BEFORE_S
        if "down" not in hand.steps and (since < TOP_S + 2.0 or now[0] > -0.6):
            return (min(pull, 1.0 + 2.0 * since) if since < TOP_S else EASED * pull), None, 0.0
        hand.steps.setdefault("down", t)
        if math.isnan(hand.ends_s) and now[0] < 0.0:
            return pull, 0.0, None
        hand.ends_s = t if math.isnan(hand.ends_s) else hand.ends_s
        return _level(now), 0.0, None

    return command


def _roll(hand: _Hand, rate: float, line_deg: float) -> Pilot:
    """rate: rad/s, right positive."""
    rolled = [0.0]

    def command(t: float, now: Now) -> Command:
        if t < BEFORE_S:
            return _level(now), 0.0, None
        hand.begins_s = BEFORE_S
        if "up" not in hand.steps and now[0] < line_deg * DEG:
            return 2.0, 0.0, None
        hand.steps.setdefault("up", t)
        rolled[0] += abs(rate) / RATE
        if "level" not in hand.steps and (rolled[0] < 1.5 * math.pi or abs(now[1]) > 0.35):
            return 0.6, None, rate
        hand.steps.setdefault("level", t)
        # It is over when it hardly falls any more.
        if math.isnan(hand.ends_s) and now[0] > -2.0 * DEG:
            hand.ends_s = t
        return _level(now), 0.0, None

    return command


def lessons(setting: Conditions) -> Iterator[Lesson]:
    """Upsets come in pairs: the same, flown promptly and late."""
    seeds = iter(range(1, 1000))

    def flown(
        kt: float,
        throttle: float,
        of: Callable[[_Hand], Pilot],
        planned: PlannedFigure,
        faults: dict[str, bool] | None = None,
        **pilot: float,
    ) -> Lesson:
        hand = _Hand()
        flight = fly(kt, 0.0, of(hand), hand.over, throttle=throttle)
        recording = as_recorded(flight, setting, next(seeds))
        return Lesson(planned, hand.begins_s, hand.ends_s, pilot, faults or {}, flight, recording)

    upsets = (
        (key, bank, path, pull)
        for key, banks, path in UPSETS
        for bank, pull in zip(banks, (2.2, 2.6, 3.0), strict=True)
    )
    for key, bank, path, pull in upsets:
        planned = figure(
            key, 8000, side=_side(bank), bank_deg=abs(bank), path_deg=path, pull_g=3.0, power=0.0
        )
        soft = {"soft_pull": pull - 3.0 < -0.4}
        for delay in (PROMPT_S, LATE_S):
            pilot = partial(_upset, bank_deg=bank, path_deg=path, delay=delay, pull=pull)
            yield flown(LEVEL_KT, 0.0, pilot, planned, soft, delay_s=delay, pull_g=pull - 3.0)
    for bank in (-45.0, 45.0, -60.0, 60.0):
        planned = figure("steep_turn", 8000, side=_side(bank), bank_deg=abs(bank))
        yield flown(LEVEL_KT, 1.0, partial(_turn, bank_deg=bank), planned)
    for pull, bank in ((3.0, 0.0), (3.3, 0.0), (3.6, 0.0), (3.3, 14.0), (3.3, -14.0)):
        leans = {"wings_not_level": abs(bank) > 8.0}
        pilot = partial(_loop, pull=pull, bank_deg=bank)
        yield flown(LOOP_KT, 1.0, pilot, figure("loop", 8000, pull_g=3.5), leans)
    for rate in (-1.2, 1.2, -1.5, 1.5):
        planned = figure("aileron_roll", 8000, side=_side(rate))
        yield flown(ROLL_KT, 1.0, partial(_roll, rate=rate, line_deg=22.0), planned)


def _side(sign: float) -> str:
    return "left" if sign < 0 else "right"
