"""What is measured of a figure that was found. A number that its columns do not tell is None, never made up.

Rates and shares by which a recovery, a pull or a stall is told are common practice, no published source; how
near heights and turns come to the true ones is counted by `make score`."""

from dataclasses import dataclass

import numpy as np

from keelturn.figures.catalogue import figure_of
from keelturn.figures.figure import Figure
from keelturn.flying.conditions import Conditions
from keelturn.motion.legs import Floats
from keelturn.recording.cleaning import Cleaned
from keelturn.recording.finding import Found
from keelturn.recording.flown import Flown
from keelturn.recording.likeness import stall_kt
from keelturn.recording.live import LEAST_TURNS, ROLLING_DEG_S, pull_out, turns_of
from keelturn.recording.shape import Shape, meant, shape_of
from keelturn.recording.table import Column, Recording
from keelturn.units import KT, SPEED


@dataclass(frozen=True, slots=True)
class Phase:
    """A stretch of the loss: what it is called, feet lost in it, seconds."""

    name: str
    lost_ft: float
    seconds: float


@dataclass(frozen=True, slots=True)
class Input:
    """What a control did first in the recovery, seconds after the figure began."""

    control: Column
    at_s: float


@dataclass(frozen=True, slots=True)
class Measured:
    """Seconds on the recording's clock; heights in ft on QNH; speeds in the aircraft's unit; degrees.

    recover_ft: where the first input against a spin was made (it takes the controls to know), where a stall
    was first unloaded, where an upset was handed over. phases add up to start - lowest. heading_off_deg: end
    against beginning. bank_at_pull_deg: where the last pull before the lowest height began. turn_s: of one
    turn where it goes round fastest. lift_share: most of the lift limit after the pull began; one and more is
    a stall. meant: the shape of the figure as planned."""

    begins_s: float
    ends_s: float
    lowest_s: float
    entry_ias: float | None
    start_ft: float
    recover_ft: float | None
    lowest_ft: float
    level_ft: float
    highest_ft: float
    phases: tuple[Phase, ...]
    turns: float | None
    turn_s: float | None
    most_g: float | None
    least_g: float | None
    rolling_g: float | None
    fastest_ias: float | None
    heading_off_deg: float | None
    bank_at_pull_deg: float | None
    lift_share: float | None
    inputs: tuple[Input, ...]
    shape: Shape | None = None
    meant: Shape | None = None

    @property
    def lost_ft(self) -> float:
        return self.start_ft - self.lowest_ft


# Turns are counted from so many rows a second on.
LEAST_HZ = 3.0
# What is known to be a spin may go round as slowly as this.
SLOW_SPIN_DEG_S = 25.0
# A spin is being stopped once it goes round this much slower than its fastest; a stall once g is less than
# this.
SLOWER, UNLOADED_G = 0.85, 0.8
# g comes on within so long, and has begun to where it is this much above its least.
COMES_ON_S, LIGHT_G = 2.0, 0.1
# A control has been moved when it has gone this share of its travel from where it was held.
MOVED = 0.25


def measure(found: Found, cleaned: Cleaned, conditions: Conditions) -> Measured:
    figure = figure_of(found.figure.key)
    whole = cleaned.flown
    flown = whole.between(found.first, found.last)
    recording = cleaned.recording.rows(slice(found.first, found.last + 1))
    own = KT / SPEED[conditions.card.speed_unit]
    lowest = int(np.argmin(flown.height))
    level = len(flown.time) - 1
    pull = _pull(flown, lowest)
    recover = _recovery_begins(figure, flown, recording, lowest)
    turns = _turns(figure, flown, level)
    shape = shape_of(found.figure, flown, conditions)
    rolling = np.abs(flown.rolling) > ROLLING_DEG_S
    return Measured(
        begins_s=float(flown.time[0]),
        ends_s=float(flown.time[-1]),
        lowest_s=float(flown.time[lowest]),
        entry_ias=_known(float(flown.ias[0]) * own),
        start_ft=float(flown.height[0]),
        recover_ft=None if recover is None else float(flown.height[recover]),
        lowest_ft=_bottom(flown, lowest),
        level_ft=float(flown.height[level]),
        highest_ft=float(flown.height.max()),
        phases=_phases(figure, flown, (recover, pull, lowest)),
        turns=turns,
        turn_s=_turn_s(flown) if turns is not None and figure.spin else None,
        most_g=_known(float(flown.g.max())),
        least_g=_known(float(flown.g.min())),
        rolling_g=_known(float(flown.g[rolling].max())) if rolling.any() else None,
        fastest_ias=_known(float(flown.ias.max()) * own),
        heading_off_deg=_known(float((flown.heading[-1] - flown.heading[0] + 180.0) % 360.0 - 180.0))
        if cleaned.recording.has(Column.HEADING)
        else None,
        bank_at_pull_deg=None if pull is None else _known(float(flown.bank[pull])),
        lift_share=_lift_share(flown, pull, conditions),
        inputs=_inputs(flown, recording),
        shape=shape,
        meant=None if shape is None else meant(found.figure, conditions),
    )


def _known(value: float) -> float | None:
    return value if np.isfinite(value) else None


def _bottom(flown: Flown, lowest: int) -> float:
    """Between rows: with one row a second the bottom lies between two of them."""
    if not 0 < lowest < len(flown.time) - 1:
        return float(flown.height[lowest])
    before, at, after = flown.height[lowest - 1 : lowest + 2]
    bend = before - 2.0 * at + after
    return float(at - (after - before) ** 2 / (8.0 * bend)) if bend > 1e-9 else float(at)


def _pull(flown: Flown, lowest: int) -> int | None:
    """Where the last pull before the lowest height was begun: from its full g back to where it last was as
    light as before."""
    if not np.isfinite(flown.g).all() or lowest == 0:
        return None
    pulling = pull_out(flown, 0, lowest)
    if pulling is None:
        return None
    first = int(np.searchsorted(flown.time, flown.time[pulling] - COMES_ON_S))
    before = flown.g[first : pulling + 1]
    return first + int(np.flatnonzero(before <= before.min() + LIGHT_G)[-1])


def _turns(figure: Figure, flown: Flown, level: int) -> float | None:
    if not flown.has_attitude:
        return None
    # Between two rows a spin may have gone round more than half: nobody knows which way.
    if float(np.median(np.diff(flown.time))) > 1.0 / LEAST_HZ:
        return None
    if figure.spin:
        return turns_of(flown, 0, level, SLOW_SPIN_DEG_S)
    turns = turns_of(flown, 0, level)
    return turns if turns >= LEAST_TURNS else None


def _turn_s(flown: Flown) -> float | None:
    """Of the fastest that it went round, as long as a turn of it lasts."""
    fastest = float(np.abs(flown.turning).max())
    return 360.0 / fastest if fastest > 0 else None


def _recovery_begins(figure: Figure, flown: Flown, recording: Recording, lowest: int) -> int | None:
    """None for a figure that is no recovery and has none."""
    if figure.situation is None:
        return None
    if figure.situation == "spin":
        return _against(flown, recording)
    if figure.situation == "stall":
        unloaded = np.flatnonzero(flown.g[: lowest + 1] < UNLOADED_G)
        return int(unloaded[0]) if len(unloaded) else None
    return 0


def _slowing(flown: Flown, lowest: int) -> int | None:
    """Where the rotation is last as fast as it was."""
    rate = np.abs(flown.turning[: lowest + 1])
    if not len(rate) or not np.isfinite(rate).all() or rate.max() <= 0.0:
        return None
    return int(np.flatnonzero(rate >= SLOWER * rate.max())[-1])


def _against(flown: Flown, recording: Recording) -> int | None:
    """The first row in which the rudder has gone over, or the stick forward, from how they were held while it
    went round ever faster."""
    if not recording.has(Column.RUDDER, Column.ELEVATOR):
        return None
    fastest = int(np.abs(flown.turning).argmax())
    # Into the turn is positive.
    rudder = recording.columns[Column.RUDDER] * np.sign(flown.turning[fastest])
    left = [_left(held, fastest) for held in (rudder, recording.columns[Column.ELEVATOR])]
    return min((row for row in left if row is not None), default=None)


def _left(control: Floats, until: int) -> int | None:
    """Where it leaves the most that it was held at up to this row."""
    held = float(control[: until + 1].max())
    at = int(np.argmax(control[: until + 1] > held - MOVED / 2.0))
    moved = np.flatnonzero(control[at:] < held - MOVED)
    return at + int(moved[0]) if len(moved) else None


def _phases(figure: Figure, flown: Flown, rows: tuple[int | None, int | None, int]) -> tuple[Phase, ...]:
    """rows: where recovery and pull begin, and the lowest. What is no recovery has no phases of one."""
    recover, pull, lowest = rows
    marks = [
        ("Before the recovery", recover),
        ("Until the rotation slows", _slowing(flown, lowest) if figure.spin else None),
        ("To the pull", pull),
        ("Pull-out", lowest),
    ]
    if figure.situation is None:
        marks = []
    found: list[Phase] = []
    at = 0
    for name, until in marks:
        if until is None or until <= at:
            continue
        until = min(until, lowest)
        bottom = _bottom(flown, lowest) if until == lowest else float(flown.height[until])
        found.append(Phase(name, float(flown.height[at]) - bottom, float(flown.time[until] - flown.time[at])))
        at = until
    if not found or at < lowest:
        lost = float(flown.height[at]) - _bottom(flown, lowest)
        found.append(Phase("To the lowest height", lost, float(flown.time[lowest] - flown.time[at])))
    return tuple(found)


def _lift_share(flown: Flown, pull: int | None, conditions: Conditions) -> float | None:
    if pull is None or not np.isfinite(flown.ias).all():
        return None
    since = slice(pull, len(flown.time))
    share: Floats = flown.g[since] * (stall_kt(conditions) / np.maximum(flown.ias[since], 1.0)) ** 2
    return float(share.max())


def _inputs(flown: Flown, recording: Recording) -> tuple[Input, ...]:
    """When each control first left where it was held at the beginning."""
    found = []
    for control in (Column.THROTTLE, Column.AILERON, Column.RUDDER, Column.ELEVATOR):
        values = recording.columns.get(control)
        if values is None or not np.isfinite(values).all():
            continue
        moved = np.flatnonzero(np.abs(values - values[0]) > MOVED)
        if len(moved):
            found.append(Input(control, float(flown.time[moved[0]] - flown.time[0])))
    return tuple(sorted(found, key=lambda one: one.at_s))
