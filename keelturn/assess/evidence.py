"""What there is of an attempt, and what can be looked at in it: a value with its doubt and its place."""

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from keelturn.aircraft.blanks import value_of
from keelturn.assess.fit import Fit
from keelturn.assess.lanes import Control, Lanes, Stretch, Way
from keelturn.assess.outcome import Became
from keelturn.figures.catalogue import figure_of
from keelturn.figures.figure import Family
from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.flying.pilots import STUDENT
from keelturn.flying.trace import HEADING
from keelturn.noting.attempt import Outcome
from keelturn.noting.entry import What
from keelturn.recording.measuring import Measured
from keelturn.recording.taps import TappedGo

# What controls and attitude are read to (one standard deviation).
CONTROL_DOUBT_S, ATTITUDE_DOUBT_DEG = 0.1, 2.0
# And where the call was.
CALL_DOUBT_S = 0.25
# A hand taps so near to what it saw, and something else when it taps outside these (s).
TAP_DOUBT_S, TAPPED_S = 0.6, (-1.0, 8.0)


@dataclass(frozen=True, slots=True)
class Evidence:
    """All that there is of an attempt. fit, lanes: None where the recording does not carry them. tapped: the
    same as a hand noted it in flight, on the recording's clock. Times of faults and lanes count from begins_s
    on it."""

    planned: PlannedFigure
    measured: Measured
    became: Became | None
    conditions: Conditions
    fit: Fit | None
    lanes: Lanes | None
    tapped: TappedGo | None = None

    @property
    def begins_s(self) -> float:
        """When it really began, as far as it is known."""
        return self.measured.begins_s if self.fit is None or not self.fit.good else self.fit.begins_s


@dataclass(frozen=True, slots=True)
class Value:
    """value: in the rule's unit, with one standard deviation of doubt; at_s: where, since it began."""

    value: float
    doubt: float
    at_s: float


def number_told(
    name: str, *, size: bool = False, at: Callable[[Evidence], float] | None = None
) -> Callable[[Evidence], Value | None]:
    """One of the pilot's numbers by the fit, where the recording tells it. size: whichever way."""

    def value(evidence: Evidence) -> Value | None:
        fit = evidence.fit
        if fit is None or not fit.good or name not in fit.numbers or not fit.numbers[name].told:
            return None
        number = fit.numbers[name]
        return Value(abs(number.value) if size else number.value, number.doubt, (at or at_the_call)(evidence))

    return value


def at_the_call(evidence: Evidence) -> float:
    return evidence.lanes.called_s if evidence.lanes is not None else 0.0


def at_the_gate(evidence: Evidence) -> float:
    return 0.0


def at_the_lowest(evidence: Evidence) -> float:
    return evidence.measured.lowest_s - evidence.begins_s


def _first(evidence: Evidence, control: Control, *ways: Way) -> float:
    """Where a control was first held this way after the call; at the call where it never was."""
    found = [stretch.from_s for stretch in _held(evidence, control, *ways) if stretch.to_s > 0.0]
    return at_the_call(evidence) + (max(0.0, found[0]) if found else 0.0)


def _held(evidence: Evidence, control: Control, *ways: Way) -> list[Stretch]:
    if evidence.lanes is None:
        return []
    lane = next(lane for lane in evidence.lanes.lanes if lane.control == control)
    return [stretch for stretch in lane.flown if stretch.way in ways]


def at_the_rudder(evidence: Evidence) -> float:
    return _first(evidence, Control.RUDDER, Way.AGAINST)


def at_the_stick(evidence: Evidence) -> float:
    return _first(evidence, Control.STICK, Way.FORWARD)


def at_the_pull(evidence: Evidence) -> float:
    """The stick was back in the spin too."""
    found = [s.from_s for s in _held(evidence, Control.STICK, Way.PULL, Way.BACK) if s.from_s > 0.0]
    return at_the_call(evidence) + (found[0] if found else 0.0)


def after_the_tap(evidence: Evidence, moved_s: float) -> Value | None:
    """Seconds from where somebody tapped that it is to be recovered to the first input, moved_s after it
    began; None where nobody did, or at another moment."""
    taps = () if evidence.tapped is None else evidence.tapped.taps
    called = next((tap.at_s for tap in taps if tap.what == What.RECOVER), None)
    if called is None:
        return None
    late = evidence.begins_s + moved_s - called
    return Value(late, TAP_DOUBT_S, moved_s) if TAPPED_S[0] <= late <= TAPPED_S[1] else None


def delayed(evidence: Evidence) -> Value | None:
    """Seconds until the first input: after the tap where there is one, else after the hand-over by the
    fit."""
    told = number_told("delay_s")(evidence)
    return told and (after_the_tap(evidence, told.at_s + told.value) or told)


def rudder_late(evidence: Evidence) -> Value | None:
    """The same of a spin, else after the briefed turns were done."""
    told = rudder_after_the_turns(evidence)
    return told and (after_the_tap(evidence, told.at_s) or told)


def rudder_after_the_turns(evidence: Evidence) -> Value | None:
    """Seconds from where the briefed turns were done to the first input: called late and moved late look the
    same from outside."""
    fit = evidence.fit
    if fit is None or not fit.good or not {"call_s", "turn_error"} <= fit.numbers.keys():
        return None
    turn_s = evidence.measured.turn_s or (
        value_of(evidence.conditions.card, "spin.turn_s") if evidence.conditions.card.spin else None
    )
    if turn_s is None:
        return None
    names = list(fit.numbers)
    weights = np.zeros(len(names))
    weights[names.index("call_s")], weights[names.index("turn_error")] = 1.0, turn_s
    value = sum(weights[at] * fit.numbers[name].value for at, name in enumerate(names))
    return Value(float(value), float(np.sqrt(weights @ fit.covariance @ weights)), at_the_rudder(evidence))


def _controls_seen(evidence: Evidence) -> bool:
    return evidence.lanes is not None and evidence.lanes.from_controls


def wrong_rudder(evidence: Evidence) -> Value | None:
    """Seconds for which the rudder was held into the turn, while it turned, after the first input."""
    if not _controls_seen(evidence):
        return None
    moved = [s.from_s for s in _held(evidence, Control.STICK, Way.FORWARD)]
    moved += [s.from_s for s in _held(evidence, Control.RUDDER, Way.AGAINST)]
    if not moved:
        return None
    after = [s for s in _held(evidence, Control.RUDDER, Way.INTO) if s.to_s > min(moved)]
    # What is held into the turn after it stopped is another fault.
    turning = [s.to_s for s in _held(evidence, Control.ROTATION, Way.TURNING)]
    until = max(turning, default=0.0)
    seconds = sum(max(0.0, min(s.to_s, until) - max(s.from_s, min(moved))) for s in after)
    at = at_the_call(evidence) + (after[0].from_s if after else 0.0)
    return Value(seconds, CONTROL_DOUBT_S, at)


def power_closed_late(evidence: Evidence) -> Value | None:
    """Seconds later than the usual student closes it. By the fit, else where the throttle was recorded: how
    long it stayed on after the call."""
    told = number_told("close_s")(evidence)
    if told is not None or not _controls_seen(evidence):
        return told
    on = [s.to_s for s in _held(evidence, Control.THROTTLE, Way.ON) if s.from_s <= 0.0 < s.to_s]
    usual = STUDENT["call_s"].usual + STUDENT["throttle_s"].usual
    return Value(max(0.0, max(on, default=0.0) - usual), CALL_DOUBT_S, at_the_call(evidence))


def power_while_down(evidence: Evidence) -> Value | None:
    """Seconds of power on between the pull and the lowest height."""
    if not _controls_seen(evidence):
        return None
    lowest = at_the_lowest(evidence) - at_the_call(evidence)
    pulls = [s.from_s for s in _held(evidence, Control.STICK, Way.PULL, Way.BACK) if 0.0 < s.from_s < lowest]
    if not pulls:
        return None
    on = [s for s in _held(evidence, Control.THROTTLE, Way.ON) if s.from_s > 0.0]
    seconds = sum(max(0.0, min(s.to_s, lowest) - max(s.from_s, pulls[-1])) for s in on)
    return Value(seconds, CONTROL_DOUBT_S, at_the_call(evidence) + (on[0].from_s if on else 0.0))


def bank_at_pull(evidence: Evidence) -> Value | None:
    """Where nothing rolls any more: in the middle of a roll a tenth of a second is twenty degrees."""
    if figure_of(evidence.planned.key).situation not in ("spin", "stall"):
        return None
    bank = evidence.measured.bank_at_pull_deg
    return None if bank is None else Value(abs(bank), ATTITUDE_DOUBT_DEG, at_the_pull(evidence))


def bank_at_the_gate(evidence: Evidence) -> Value | None:
    """Where the first pull of a loop or of a line begins."""
    shape = evidence.measured.shape
    if shape is None or shape.first_bank_deg is None:
        return None
    return Value(abs(shape.first_bank_deg), ATTITUDE_DOUBT_DEG, at_the_gate(evidence))


def heading_off(evidence: Evidence) -> Value | None:
    """From where it should come out, as the core's own flight of it does."""
    off, fit = evidence.measured.heading_off_deg, evidence.fit
    keeps = figure_of(evidence.planned.key).family in (Family.ROLLS, Family.LOOPING)
    if off is None or fit is None or not fit.good or not keeps:
        return None
    meant = math.degrees(float(fit.rows[-1, HEADING] - fit.rows[0, HEADING]))
    end = evidence.measured.ends_s - evidence.begins_s
    return Value(abs((off - meant + 180.0) % 360.0 - 180.0), ATTITUDE_DOUBT_DEG, end)


def too_fast(evidence: Evidence) -> Value | None:
    fastest = evidence.measured.fastest_ias
    if fastest is None:
        return None
    most = evidence.conditions.card.speeds.never_exceed_ias.value
    return Value(100.0 * fastest / most, 1.0, at_the_lowest(evidence))


def stalled_again(evidence: Evidence) -> Value | None:
    became = evidence.became
    if became is None:
        return None
    again = became.outcome == Outcome.SECONDARY_STALL
    return Value(float(again), 0.1, became.at_s - evidence.begins_s)
