"""One figure flown, by a few pilots with a trace each or by many without: legs by the engine of motion, spins
by that of spinning, in order."""

from collections.abc import Mapping, Sequence
from threading import Lock

import numpy as np
from cachetools import LRUCache, cached
from numpy.typing import NDArray

from keelturn.figures.catalogue import figure_of
from keelturn.figures.figure import Closes
from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.flying.numbers import ERRORS, entry_tas, figure_numbers, flapped, setting
from keelturn.flying.parts import BY_THE_CARD, HEIGHT_KEEPING, Course, Part
from keelturn.flying.pilots import usual_numbers
from keelturn.flying.spin import RECOVERY_AFTER, lines_of
from keelturn.motion import engine
from keelturn.motion import equations as eq
from keelturn.motion.flight import FAN_STEP_S, STEP_S, Held, Start, begin, fly_each, fly_fan
from keelturn.motion.legs import Floats, Leg, Numbers, compile_legs, look_up, rolling_rows, rows_of
from keelturn.recoveries.schools import RUDDER_THEN_STICK, School, SpinInputs, school_in_use
from keelturn.recoveries.spin_kinds import KINDS
from keelturn.spinning.engine import (
    M_CALLED,
    NEVER_STOPPED,
    T_EAS,
    T_G_LEAST,
    T_G_MOST,
    T_HIGHEST,
    T_LOWEST,
    T_OUTCOME,
)
from keelturn.spinning.flight import spin
from keelturn.spinning.inputs import inputs_of
from keelturn.units import DEG, FT, G0

# What a way out does of which the manual says that it does not stop this type: nothing.
NOTHING_WORKS = SpinInputs(1.0, 1.0, stick_after_rudder=False, hands_free=True)


def school_of(planned: PlannedFigure, conditions: Conditions) -> School | None:
    figure = figure_of(planned.key)
    return (
        None
        if figure.situation is None
        else school_in_use(
            figure.situation,
            planned.school or conditions.standards.figure(planned.key).school,
            conditions.card,
            figure.spin,
        )
    )


def segments(legs: tuple[Leg, ...], recovery: tuple[Leg, ...]) -> list[tuple[list[Leg], int]]:
    """Legs split at the spins: each piece a lone spin or legs for the engine, and from which of its legs on
    it is recovery."""
    found: list[tuple[list[Leg], int]] = []
    everything = [(leg, False) for leg in legs] + [(leg, True) for leg in recovery]
    piece: list[tuple[Leg, bool]] = []
    for leg, recovers in [*everything, (None, False)]:
        if leg is None or leg.kind == "spins":
            if piece:
                found.append(([part for part, _ in piece], sum(not of for _, of in piece)))
            if leg is not None:
                found.append(([leg], 0))
            piece = []
        else:
            piece.append((leg, recovers))
    return found


def fly(
    planned: PlannedFigure,
    conditions: Conditions,
    pilot: Numbers,
    start_m: float,
    trace: bool = False,
    given: Numbers | None = None,
    school: School | None = None,
    step_s: float = STEP_S,
) -> Course:
    """Fly a planned figure from this height (m). pilot: arrays (N,) or numbers; `given` overrides any number
    by name, entry_tas (m/s) included; school: the one in use where left out; step_s: between rows of the
    trace. Raises ValueError when the aircraft's card lacks what the figure needs."""
    figure, school = figure_of(planned.key), school or school_of(planned, conditions)
    numbers = {
        **figure_numbers(planned, conditions, pilot, start_m),
        **(school.numbers if school else {}),
        **(given or {}),
    }
    closes = figure.closes
    if closes is not None and closes.number not in {**planned.parameters, **(given or {})}:
        numbers[closes.number] = _as_this_pilot(
            closes, closing(planned, conditions, start_m), planned, numbers
        )
    pilots = max(1, *(v.size for v in numbers.values() if isinstance(v, np.ndarray)))
    course, held = _begun(planned, conditions, numbers, start_m, pilots)
    course.lowest, course.highest = held.states[:, eq.UP].copy(), np.full(pilots, start_m)
    course.recovery_m = np.full(pilots, np.nan)
    throttle: float | Floats = numbers["throttle_start"]
    for legs, recovers_from in segments(figure.legs, school.legs if school is not None else ()):
        if legs[0].kind == "spins":
            assert school is not None
            held = _spin(course, planned, conditions, numbers, held, school, step_s if trace else None)
            throttle = 0.0
        else:
            now = {**numbers, "throttle_start": throttle}
            held = _legs(
                course, legs, recovers_from, planned, conditions, now, held, step_s if trace else None
            )
    course.recovery_m = np.where(np.isnan(course.recovery_m), start_m, course.recovery_m)
    course.end = held
    return course


def _as_this_pilot(
    closes: Closes, found: float, planned: PlannedFigure, numbers: Numbers
) -> "float | Floats":
    """A pull with how hard this pilot pulls against the plan, a setting with the error in it."""
    if closes.most is None:
        return found * np.asarray(numbers["pull_g"]) / planned.parameter("pull_g")
    return found + np.asarray(numbers[ERRORS[closes.number]]) if closes.number in ERRORS else found


def _alike(planned: PlannedFigure, conditions: Conditions, start_m: float) -> object:
    return planned.as_flown, conditions.exactly, round(start_m)


@cached(LRUCache(512), key=_alike, lock=Lock())
def closing(planned: PlannedFigure, conditions: Conditions, start_m: float) -> float:
    """The number with which the usual pilot's figure ends nearest the height it began at, found at the
    nearest whole metre."""
    return float(_closed(planned, conditions, float(round(start_m)), {}, 1)[0])


# m/s EAS: in hand beyond the speed that a figure needs, for what closes it; and by how much of it may be
# missing and count as the same.
IN_HAND, NEAR_ENOUGH = 0.2, 0.5
# Speeds and pulls of a map.
CLOSING_GRID = (9, 5)


def closings(
    planned: PlannedFigure, conditions: Conditions, start_m: float, tas: Floats, pulls: Floats | None
) -> Floats:
    """The same at other entry speeds (m/s TAS), (N,); with as many pulls (g) found at a few of both, linear
    between them."""
    if pulls is None:
        return _closed(planned, conditions, start_m, {"entry_tas": tas}, len(tas))
    from scipy.interpolate import RegularGridInterpolator

    speeds, hard = (
        np.linspace(asked.min(), asked.max() + 1e-6, many)
        for asked, many in zip((tas, pulls), CLOSING_GRID, strict=True)
    )
    at, by = (grid.ravel() for grid in np.meshgrid(speeds, hard, indexing="ij"))
    found = _closed(planned, conditions, start_m, {"entry_tas": at, "pull_g": by}, len(at))
    between = RegularGridInterpolator((speeds, hard), found.reshape(len(speeds), len(hard)))
    closest: Floats = between(np.stack([tas, pulls], axis=1))
    return closest


def _closed(
    planned: PlannedFigure, conditions: Conditions, start_m: float, given: Mapping[str, Floats], rows: int
) -> Floats:
    """For each row of what is given: nine flights at once, and between the two that lie on either side."""
    closes = figure_of(planned.key).closes
    assert closes is not None
    pull = given.get("pull_g", setting(planned, "pull_g", 0.0))
    most = np.broadcast_to(np.asarray(pull if closes.most is None else closes.most), rows)
    least = np.minimum(closes.least, most)
    tried = least[:, None] + (most - least)[:, None] * np.linspace(0.0, 1.0, 9)
    asked = {name: np.repeat(values, 9) for name, values in given.items()}
    course = fly(
        planned,
        conditions,
        usual_numbers("student"),
        start_m,
        given={**asked, closes.number: tried.ravel()},
    )
    assert course.end is not None
    # Only with the speed that it needs on the way; where there is none, only with what comes nearest to it.
    margin = np.where(course.made > 0, course.margin, -np.inf).reshape(rows, 9)
    off = (course.end.states[:, eq.UP] - start_m).reshape(rows, 9)
    most_margin = margin.max(axis=1)
    wanted = np.where(most_margin >= IN_HAND, IN_HAND, most_margin - NEAR_ENOUGH)
    off[margin < wanted[:, None]] = np.nan
    found = _taken(tried, np.where(np.isnan(off), np.inf, np.abs(off)).argmin(axis=1))
    over = off[:, :-1] * off[:, 1:] <= 0.0
    first = over.argmax(axis=1)
    low, high = _taken(off, first), _taken(off, first + 1)
    share = np.where(over.any(axis=1), low / np.where(low == high, 1.0, low - high), 0.0)
    between: Floats = _taken(tried, first) + share * (_taken(tried, first + 1) - _taken(tried, first))
    return np.where(over.any(axis=1), between, found)


def _taken(table: Floats, columns: NDArray[np.intp]) -> Floats:
    """One of each row."""
    return np.take_along_axis(table, columns[:, None], axis=1)[:, 0]


def _begun(
    planned: PlannedFigure, conditions: Conditions, numbers: Numbers, start_m: float, pilots: int
) -> tuple[Course, Held]:
    """Nothing flown yet but what is let go while turning, and the state at the gate."""
    figure = figure_of(planned.key)
    course = Course(
        margin=np.full(pilots, np.inf),
        most_g=np.ones(pilots),
        least_g=np.ones(pilots),
        rolling_g=np.full(pilots, np.nan),
        share=np.zeros(pilots),
        fastest=np.zeros(pilots),
        limited=np.zeros(pilots),
        made=np.ones(pilots),
    )
    height = np.full(pilots, start_m)
    if figure.holds_height:
        kept = np.broadcast_to(np.asarray(numbers["height_keeping_ft"]) * FT, pilots)
        course.parts.append(Part(HEIGHT_KEEPING, kept, np.zeros(pilots), False))
        height = height - kept
    path = np.asarray(look_up(figure.begin.path_deg, numbers)) * DEG
    start = Start(
        height,
        entry_tas(planned, conditions, numbers, start_m),
        path,
        np.asarray(look_up(figure.begin.bank_deg, numbers)) * DEG,
        g=-np.cos(path) if figure.situation == "inverted" else np.cos(path),
        throttle=numbers["throttle_start"],
    )
    return course, begin(start, pilots)


def _legs(
    course: Course,
    legs: Sequence[Leg],
    recovers_from: int,
    planned: PlannedFigure,
    conditions: Conditions,
    numbers: Numbers,
    held: Held,
    trace_s: float | None,
) -> Held:
    """A run of legs by the engine, added to the course. recovers_from: the first leg of the recovery.
    trace_s: between rows of the trace, None without one."""
    body, stall = conditions.body_for(flapped(planned)), conditions.frame_for(flapped(planned)).stall
    compiled, parts = compile_legs(legs, numbers, stall, len(held.states))
    before = rows_of(legs[:recovers_from])
    top = held.states[:, eq.UP]
    if trace_s is not None:
        summaries, traces, held = fly_each(held, compiled, body, trace_s)
        course.goes_on(traces)
    else:
        summaries, held = fly_fan(held, compiled, body, FAN_STEP_S)
    if before < len(parts) and np.isnan(course.recovery_m).all():
        course.recovery_m = top + summaries[:, :before, engine.S_HEIGHT].sum(axis=1)
    _add(course, summaries, parts, compiled, before)
    return held


def _add(
    course: Course, summaries: Floats, parts: tuple[str, ...], compiled: Floats, recovers_from: int
) -> None:
    for i, name in enumerate(parts):
        course.parts.append(
            Part(
                name, -summaries[:, i, engine.S_HEIGHT], summaries[:, i, engine.S_SECONDS], i >= recovers_from
            )
        )
    needs = compiled[0, :, eq.LEAST_EAS] > 0
    if needs.any():
        course.margin = np.minimum(course.margin, summaries[:, needs, engine.S_MARGIN].min(axis=1))
    rolling = rolling_rows(compiled)
    if rolling.any():
        course.rolling_g = np.fmax(course.rolling_g, summaries[:, rolling, engine.S_G_MOST].max(axis=1))
    course.lowest = np.minimum(course.lowest, summaries[:, :, engine.S_LOWEST].min(axis=1))
    course.highest = np.maximum(course.highest, summaries[:, :, engine.S_HIGHEST].max(axis=1))
    course.fastest = np.maximum(course.fastest, summaries[:, :, engine.S_EAS_MOST].max(axis=1))
    course.most_g = np.maximum(course.most_g, summaries[:, :, engine.S_G_MOST].max(axis=1))
    course.least_g = np.minimum(course.least_g, summaries[:, :, engine.S_G_LEAST].min(axis=1))
    course.share = np.maximum(course.share, summaries[:, :, engine.S_SHARE].max(axis=1))
    course.limited = np.maximum(course.limited, summaries[:, :, engine.S_LIMITED].max(axis=1))
    course.made = np.minimum(course.made, (summaries[:, :, engine.S_STATUS] == engine.MADE).all(axis=1))
    course.flown.append((summaries, parts))


def _spin(
    course: Course,
    planned: PlannedFigure,
    conditions: Conditions,
    numbers: Numbers,
    held: Held,
    school: School,
    trace_s: float | None,
) -> Held:
    """The spin from where the legs ended: its lines of the account, and where the pull-out begins."""
    figure = figure_of(planned.key)
    if conditions.spin is None:
        raise ValueError(
            f"{figure.name}: the card of {conditions.card.name} has no spin figures to compute from"
        )
    kind, left = figure.spin or "upright", planned.side == "left"
    turns, top = planned.parameter("turns"), held.states[:, eq.UP]
    method = school.spin_inputs or RUDDER_THEN_STICK
    if conditions.card.spin is not None and school.name in conditions.card.spin.does_not_stop:
        method = NOTHING_WORKS
    inputs = inputs_of(KINDS[kind], turns, left, method, numbers, len(top))
    spun = spin(
        conditions.spin.spinner(kind, left, conditions.frame),
        conditions.body,
        inputs,
        held,
        KINDS[kind].inverted,
        trace_s is not None,
        trace_s,
    )
    recovers = False
    for name, lost, seconds in lines_of(spun, turns, top):
        course.parts.append(Part(name, lost, seconds, recovers))
        recovers = recovers or name == RECOVERY_AFTER
    more_m = conditions.spin.more_ft(turns, left) * FT
    if more_m > 0.0:
        course.parts.append(Part(BY_THE_CARD, np.full(len(top), more_m), np.zeros(len(top)), True))
        spun.held.states[:, eq.UP] -= more_m
        spun.held.states[:, eq.WORK] -= G0 * more_m
        spun.told[:, T_LOWEST] -= more_m
    for rows in spun.traces:
        # A spin that is over as it begins took no time to sink in.
        sunk = more_m * rows[:, engine.R_TIME] / max(rows[-1, engine.R_TIME], 1e-9)
        rows[:, engine.R_HEIGHT] -= sunk
        rows[:, engine.R_WORK] -= G0 * sunk
    if spun.traces:
        course.goes_on(spun.traces)
    told = spun.told
    course.recovery_m = spun.height(M_CALLED)
    course.fastest = np.maximum(course.fastest, told[:, T_EAS])
    course.most_g, course.least_g = (
        np.maximum(course.most_g, told[:, T_G_MOST]),
        np.minimum(course.least_g, told[:, T_G_LEAST]),
    )
    course.highest, course.lowest = (
        np.maximum(course.highest, told[:, T_HIGHEST]),
        np.minimum(course.lowest, told[:, T_LOWEST]),
    )
    course.spun = told
    course.made = np.minimum(course.made, told[:, T_OUTCOME] != NEVER_STOPPED)
    return spun.held
