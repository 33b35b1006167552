"""What hands and feet did, and when: a lane for each control, with that of the method as briefed beside it,
both counted from where the recovery was called. From the controls where they were recorded, else from the
fit.

How far a control counts as moved is common practice, no published source."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

from keelturn.assess.fit import Fit
from keelturn.figures.catalogue import figure_of
from keelturn.flying.course import fly
from keelturn.flying.pilots import STUDENT
from keelturn.flying.trace import TIME, G, axes, controls
from keelturn.motion.legs import Floats
from keelturn.recording.cleaning import Cleaned
from keelturn.recording.flown import turned_deg
from keelturn.recording.measuring import Measured
from keelturn.recording.table import CONTROLS, Column
from keelturn.units import FT


class Control(StrEnum):
    THROTTLE = "Throttle"
    AILERON = "Aileron"
    RUDDER = "Rudder"
    STICK = "Stick"
    ROTATION = "Rotation"


class Way(StrEnum):
    """Which way a control is held. To the turn and against it in a spin; to a side elsewhere."""

    ON = "on"
    INTO = "into the turn"
    AGAINST = "against the turn"
    LEFT = "left"
    RIGHT = "right"
    BACK = "back"
    FORWARD = "forward"
    PULL = "pull"
    LIGHT = "light"
    TURNING = "turning"


@dataclass(frozen=True, slots=True)
class Stretch:
    """Seconds from the call; share: of full travel, at its most; of a pull, g."""

    from_s: float
    to_s: float
    way: Way
    share: float


@dataclass(frozen=True, slots=True)
class Lane:
    control: Control
    flown: tuple[Stretch, ...]
    method: tuple[Stretch, ...]


@dataclass(frozen=True, slots=True)
class Lanes:
    """called_s: since the figure began. from_controls: or inferred from how it moved. from_s, to_s: from the
    call to the ends of what is shown."""

    called_s: float
    from_s: float
    to_s: float
    lanes: tuple[Lane, ...]
    from_controls: bool


# Beyond these a control is held; shares of full travel, g, deg/s. A shorter stretch (s) is none.
HELD_THROTTLE, HELD_AILERON, HELD_RUDDER, BACK, FORWARD = 0.15, 0.2, 0.2, 0.4, -0.05
PULLING_G, LIGHT_G, TURNING_DEG_S = 1.5, 0.6, 30.0
SHORTEST_S = 0.12
# Shown before the call and after the lowest height (s).
BEFORE_S, AFTER_S = 2.0, 1.0


def called_s(fit: Fit, pilot: Mapping[str, float]) -> float:
    """Seconds from the gate to where this pilot's recovery is called."""
    planned = fit.planned
    numbers = {name: np.array([value]) for name, value in pilot.items()}
    course = fly(planned, fit.compared.conditions, numbers, planned.start_ft * FT)
    return float(sum(part.seconds[0] for part in course.parts if not part.of_recovery))


def lanes_of(fit: Fit, measured: Measured, cleaned: Cleaned) -> Lanes | None:
    """None for a figure without a recovery, and where the fit is poor and no control was recorded. Where it
    is poor the first rudder against the spin counts as the call."""
    planned, recording = fit.compared.planned, cleaned.recording
    recorded = recording.has(*CONTROLS)
    if figure_of(planned.key).situation is None or not (fit.good or recorded):
        return None
    usual = {name: number.usual for name, number in STUDENT.items()}
    usual_called, begins = called_s(fit, usual), fit.begins_s
    called = called_s(fit, usual | fit.pilot)
    if not fit.good:
        begins, called = measured.begins_s, 0.0
    method = _by_control(fit, *_of_rows(fit, fit.compared.flown(usual, {}).rows, usual_called))
    if recorded:
        whole = cleaned.flown
        first, last = np.searchsorted(whole.time, [begins - BEFORE_S, measured.ends_s])
        rows = slice(int(first), int(last))
        moved = np.stack([recording.columns[column][rows] for column in CONTROLS], axis=1)
        time = whole.time[rows] - begins - called
        turning = whole.turning[rows] if whole.has_attitude else np.zeros(len(time))
        g = whole.g[rows] if recording.has(Column.G) else np.ones(len(time))
        flown = _by_control(fit, time, moved, g, turning)
        if not fit.good:
            called = next((s.from_s for s in flown[Control.RUDDER] if s.way == Way.AGAINST), 0.0)
            flown = _by_control(fit, time - called, moved, g, turning)
    else:
        flown = _by_control(fit, *_of_rows(fit, fit.rows, called))
    first_s = max(-called, -BEFORE_S)
    last_s = measured.lowest_s - begins - called + AFTER_S
    return Lanes(
        called,
        first_s,
        max(last_s, 1.0),
        tuple(
            Lane(
                control, _between(flown[control], first_s, last_s), _between(method[control], first_s, last_s)
            )
            for control in Control
        ),
        recorded,
    )


def _of_rows(fit: Fit, rows: Floats, called: float) -> tuple[Floats, Floats, Floats, Floats]:
    """Time from the call, controls, g and rate of turning of a flight of the core's."""
    conditions = fit.compared.conditions
    turned = turned_deg(*axes(rows, conditions.frame.stall))
    time = rows[:, TIME]
    turning = np.gradient(turned, np.maximum.accumulate(time + 1e-9 * np.arange(len(time))))
    return time - called, controls(rows, conditions), rows[:, G], turning


def _by_control(
    fit: Fit, time: Floats, moved: Floats, g: Floats, turning: Floats
) -> dict[Control, list[Stretch]]:
    """time (R,); moved: as flying/trace.py has them (R, 4)."""
    planned = fit.compared.planned
    spin = figure_of(planned.key).spin is not None
    side = -1.0 if planned.side == "left" else 1.0
    throttle, aileron, rudder, stick = moved.T
    one, other = (Way.INTO, Way.AGAINST) if spin else (Way.RIGHT, Way.LEFT)
    to_side = side if spin else 1.0
    if spin:
        ways = [(stick > BACK, Way.BACK, stick), (stick < FORWARD, Way.FORWARD, stick)]
    else:
        ways = [(g > PULLING_G, Way.PULL, g), (g < LIGHT_G, Way.LIGHT, g)]
    return {
        Control.THROTTLE: _stretches(time, [(throttle > HELD_THROTTLE, Way.ON, throttle)]),
        Control.AILERON: _stretches(
            time,
            [
                (aileron * to_side > HELD_AILERON, one, aileron),
                (aileron * to_side < -HELD_AILERON, other, aileron),
            ],
        ),
        Control.RUDDER: _stretches(
            time,
            [(rudder * to_side > HELD_RUDDER, one, rudder), (rudder * to_side < -HELD_RUDDER, other, rudder)],
        ),
        Control.STICK: _stretches(time, ways),
        Control.ROTATION: _stretches(
            time, [(np.abs(turning) > TURNING_DEG_S, Way.TURNING, turning / 360.0)] if spin else []
        ),
    }


def _stretches(time: Floats, ways: Sequence[tuple[NDArray[np.bool_], Way, Floats]]) -> list[Stretch]:
    found = []
    for held, way, values in ways:
        edges = np.flatnonzero(np.diff(np.concatenate([[False], held, [False]]).astype(int)))
        for first, after in zip(edges[::2], edges[1::2], strict=True):
            begins, ends = float(time[first]), float(time[after - 1])
            if ends - begins >= SHORTEST_S:
                part = values[first:after]
                most = float(part[np.abs(part).argmax()])
                found.append(Stretch(round(begins, 2), round(ends, 2), way, round(abs(most), 2)))
    return sorted(found, key=lambda stretch: stretch.from_s)


def _between(stretches: Sequence[Stretch], first_s: float, last_s: float) -> tuple[Stretch, ...]:
    return tuple(
        Stretch(max(first_s, one.from_s), min(last_s, one.to_s), one.way, one.share)
        for one in stretches
        if one.to_s > first_s and one.from_s < last_s
    )
