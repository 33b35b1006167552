"""A plan as it was really flown by pilots of given habits: the climbs between the figures, the figures, and
what is true of each. What a recorder then makes of it: recorder.py.

It comes from the same functions that plan and brief (flying/course.py)."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np

from keelturn.air import RHO0
from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.flying.costs import pilot_numbers
from keelturn.flying.course import fly
from keelturn.flying.entry import entry_speed
from keelturn.flying.numbers import ias_along, tas_at
from keelturn.flying.parts import Course
from keelturn.flying.pilots import Who
from keelturn.flying.trace import (
    AILERON,
    ALPHA,
    BANK,
    COLUMNS,
    EAS,
    EAST,
    HEADING,
    HEIGHT,
    LEG,
    NORTH,
    PATH,
    RUDDER,
    STICK,
    TAS,
    THROTTLE,
    TIME,
    G,
    attitude,
    trace_of,
)
from keelturn.motion.legs import Floats
from keelturn.plan.chain import climb_fpm, link
from keelturn.plan.ground import along_line, carried
from keelturn.recording.flown import Flown
from keelturn.spinning.engine import M_STOPPED, T_OUTCOME
from keelturn.units import DEG, FT

# Seconds in which the speed is brought from one figure to the climb, and from it to the next gate; in which
# an instructor sets up the attitude in which a figure begins; and of level flight after the last figure.
CHANGE_S, SET_UP_S, AFTER_S = 12.0, 3.0, 20.0
# Down to a lower start it goes at 1,200 ft a minute.
DESCENT_FPS = 20.0
# Attitudes (rad) nearer than this need no set-up.
SAME_ATTITUDE = 0.05


@dataclass(frozen=True, slots=True)
class Go:
    """habits: added to the usual numbers of `who` by name."""

    planned: PlannedFigure
    who: Who = "student"
    habits: Mapping[str, float] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class TrueFigure:
    """When it was flown (s), heights on QNH (ft), most g, how often it went round the vertical to its side
    while spinning, and what became of a spin (spinning/engine.py); the last two nan where nothing spun."""

    id: str
    begins_s: float
    ends_s: float
    start_ft: float
    recover_ft: float
    lowest_ft: float
    most_g: float
    turns: float
    outcome: float


def fly_all(goes: Sequence[Go], conditions: Conditions) -> tuple[Floats, tuple[TrueFigure, ...]]:
    """Rows (R, flying.trace.COLUMNS), from the elevation of the place to some level flight after the last
    figure. Raises KeyError for a habit that there is not, ValueError as `fly` does."""
    pieces, figures = [], []
    clock, height, speed, heading, place = (
        0.0,
        conditions.place.elevation_ft,
        None,
        along_line(conditions) * DEG,
        (0.0, 0.0),
    )
    for go in goes:
        planned, numbers = go.planned, pilot_numbers(go.who, **go.habits)
        course = fly(planned, conditions, numbers, planned.start_ft * FT, trace=True)
        joined = link(conditions, height, speed, planned.start_ft, entry_speed(planned, conditions).value)
        speeds = (speed, entry_speed(planned, conditions).value)
        descent_s = max(0.0, height - planned.start_ft) / DESCENT_FPS + 2.0 * CHANGE_S
        seconds = max(joined.minutes * 60.0, descent_s)
        climb = _climb(conditions, clock, seconds, height, planned.start_ft, heading, place, speeds)
        climb = _set_up(climb, trace_of(course)[0])
        clock, place = float(climb[-1, TIME]), (float(climb[-1, EAST]), float(climb[-1, NORTH]))
        flown = _truth(course, clock, heading, place, planned, conditions)
        figures.append(_true(planned, course, flown, conditions))
        pieces += [climb, flown]
        clock, height, heading = (
            float(flown[-1, TIME]),
            float(flown[-1, HEIGHT]) / FT,
            float(flown[-1, HEADING]),
        )
        place = (float(flown[-1, EAST]), float(flown[-1, NORTH]))
        speed = float(ias_along(conditions, flown[-1:, EAS], flown[-1:, HEIGHT])[0])
    if speed is None:
        return np.zeros((0, COLUMNS)), ()
    climb_ias = conditions.card.speeds.climb_ias.value
    pieces.append(_climb(conditions, clock, AFTER_S, height, height, heading, place, (speed, climb_ias)))
    return np.vstack(pieces), tuple(figures)


def _stop_s(rows: Floats, course: Course) -> float:
    """When the rotation of the spin stopped, on the clock of the rows; nan where nothing spun."""
    spinning = ~np.isnan(rows[:, ALPHA])
    if course.spun is None or not spinning.any():
        return np.nan
    return float(rows[spinning, TIME][0] + course.spun[0, 2 * M_STOPPED])


def _stopped_as_it_was(rows: Floats, course: Course) -> None:
    """The core hands a spin over to the pull-out wings level, whichever way the lift pointed as it stopped;
    an aircraft pulls out to that side instead: what comes after is turned there."""
    after = np.flatnonzero(rows[:, TIME] >= _stop_s(rows, course))
    if not len(after):
        return
    first = after[0]
    bank, path = rows[first, BANK], rows[first, PATH]
    aside = np.arctan2(np.sin(bank), -np.cos(bank) * np.sin(path))
    spinning = after[~np.isnan(rows[after, ALPHA])]
    rows[spinning, BANK] = 0.0
    rows[after, HEADING] += aside
    c, s = np.cos(aside), np.sin(aside)
    east, north = rows[after, EAST] - rows[first, EAST], rows[after, NORTH] - rows[first, NORTH]
    rows[after, EAST] = rows[first, EAST] + c * east + s * north
    rows[after, NORTH] = rows[first, NORTH] - s * east + c * north


def _true(planned: PlannedFigure, course: Course, rows: Floats, conditions: Conditions) -> TrueFigure:
    turns = outcome = np.nan
    stopped = _stop_s(rows, course)
    if course.spun is not None and np.isfinite(stopped):
        # A row at the end of one part stands at the beginning of the next again.
        spun = ~np.isnan(rows[:, ALPHA]) & (rows[:, TIME] <= stopped)
        those = rows[spun & (np.diff(rows[:, TIME], prepend=-np.inf) > 1e-6)]
        pitch, bank, heading = (angle / DEG for angle in attitude(those, conditions.frame.stall))
        still = np.zeros(len(those))
        flown = Flown.of(those[:, TIME], still, still, still, pitch, bank, heading)
        turns = abs(float((flown.turning[1:] * np.diff(flown.time)).sum())) / 360.0
        outcome = float(course.spun[0, T_OUTCOME])
    return TrueFigure(
        planned.id,
        float(rows[0, TIME]),
        float(rows[-1, TIME]),
        float(rows[0, HEIGHT]) / FT,
        float(course.recovery_m[0]) / FT,
        float(rows[:, HEIGHT].min()) / FT,
        float(rows[:, G].max()),
        turns,
        outcome,
    )


def _climb(
    conditions: Conditions,
    clock: float,
    seconds: float,
    from_ft: float,
    to_ft: float,
    heading: float,
    place: tuple[float, float],
    speeds: tuple[float | None, float],
) -> Floats:
    """Straight to the next start: at the climb speed while there is height to win, then level for the
    lookout; from the speed that the figure before left (None at the very beginning) and to that of the next
    gate."""
    card = conditions.card
    climbing = max(0.0, to_ft - from_ft) / climb_fpm(conditions, (from_ft + to_ft) / 2.0) * 60.0
    # Some of it is won from speed: it is up before the lookout.
    climbing = min(climbing, max(seconds - 2.0 * CHANGE_S, 0.5 * seconds))
    times = np.unique(np.concatenate([np.arange(0.0, seconds, 1.0), [min(climbing, seconds), seconds]]))
    rows = np.zeros((len(times), COLUMNS))
    rows[:, [ALPHA, STICK, RUDDER, AILERON]] = np.nan
    climb_ias = card.speeds.climb_ias.value
    left, next_gate = climb_ias if speeds[0] is None else speeds[0], speeds[1]
    change_s = min(CHANGE_S, seconds / 3.0)
    ias = np.interp(
        times, [0.0, change_s, seconds - change_s, seconds], [left, climb_ias, climb_ias, next_gate]
    )
    tas = np.array([tas_at(conditions, float(v), (from_ft + to_ft) / 2.0 * FT) for v in ias])
    # Down to a lower start only after a look around.
    falling = np.clip((times - change_s) / max(1.0, seconds - 2.0 * change_s), 0.0, 1.0)
    share = np.clip(times / climbing, 0.0, 1.0) if climbing > 0 else falling
    rows[:, TIME], rows[:, HEIGHT] = clock + times, (from_ft + (to_ft - from_ft) * share) * FT
    rows[:, TAS], rows[:, EAS] = (
        tas,
        tas * np.sqrt(conditions.air.density((from_ft + to_ft) / 2.0 * FT) / RHO0),
    )
    rows[:, G], rows[:, HEADING], rows[:, THROTTLE], rows[:, LEG] = 1.0, heading, 1.0, -2.0
    rising = np.gradient(rows[:, HEIGHT], times)
    rows[:, PATH] = np.arcsin(np.clip(rising / tas, -1.0, 1.0))
    gone = np.concatenate([[0.0], np.cumsum(np.diff(times) * (tas[1:] + tas[:-1]) / 2.0)])
    east, north = np.sin(heading) * gone, np.cos(heading) * gone
    drifted = carried(conditions, times, rows[:, HEIGHT])
    rows[:, EAST], rows[:, NORTH] = place[0] + east + drifted[:, 0], place[1] + north + drifted[:, 1]
    return rows


def _set_up(climb: Floats, gate: Floats) -> Floats:
    """The last seconds before a figure, rolled and pitched into the attitude in which it begins."""
    last = climb[-1]
    if abs(gate[BANK]) + abs(gate[PATH]) < SAME_ATTITUDE:
        return climb
    times = np.arange(max(climb[0, TIME], last[TIME] - SET_UP_S), last[TIME], 0.1)
    finer = np.stack([np.interp(times, climb[:, TIME], column) for column in climb.T], axis=1)
    rows = np.vstack([climb[climb[:, TIME] < times[0]], finer, last])
    share = np.clip((rows[:, TIME] - times[0]) / SET_UP_S, 0.0, 1.0)
    eased = share * share * (3.0 - 2.0 * share)
    for column in (BANK, PATH, G):
        rows[:, column] += (gate[column] - rows[:, column]) * eased
    return rows


def _truth(
    course: Course,
    clock: float,
    heading: float,
    place: tuple[float, float],
    planned: PlannedFigure,
    conditions: Conditions,
) -> Floats:
    """The course on the flight's clock and heading, carried by the wind."""
    rows = trace_of(course)
    _stopped_as_it_was(rows, course)
    c, s = np.cos(heading), np.sin(heading)
    east, north = rows[:, EAST].copy(), rows[:, NORTH].copy()
    drifted = carried(conditions, rows[:, TIME], rows[:, HEIGHT])
    rows[:, EAST], rows[:, NORTH] = (
        place[0] + c * east + s * north + drifted[:, 0],
        place[1] - s * east + c * north + drifted[:, 1],
    )
    rows[:, HEADING] += heading
    rows[:, TIME] += clock
    return rows
