"""What one figure costs the usual pilot, with its account, its trace and what stops it; and what many pilots
lose."""

from dataclasses import dataclass

import numpy as np

from keelturn.figures.catalogue import figure_of
from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.flying.course import fly
from keelturn.flying.numbers import ias_along, ias_of
from keelturn.flying.parts import HEIGHT_KEEPING, Course
from keelturn.flying.pilots import Who, usual_numbers
from keelturn.motion import engine
from keelturn.motion.legs import Floats, Numbers
from keelturn.spinning.engine import NEVER_STOPPED, OTHER_WAY, SPIRALLED, T_OUTCOME
from keelturn.units import FT

# The buffet is felt from this share of the lift limit on (common practice, no published source).
BUFFET_SHARE = 0.85


@dataclass(frozen=True, slots=True)
class Shortfall:
    """Why a figure cannot be flown so: in which part, in words, and how much speed is missing there
    (aircraft's unit; None when it is not a matter of speed)."""

    part: str
    words: str
    speed: float | None


@dataclass(frozen=True, slots=True)
class Flown:
    """The usual pilot's figure. parts: (name, height lost ft, seconds), adding up to lost_ft exactly;
    deepest_ft: start to the lowest point; rise_ft: start to the highest; before_recovery_ft: lost when the
    recovery begins; along_m: moved along the line it was begun on, through the air. most_rolling_g: None when
    nothing is rolled. longest_negative_s: on end at less than no g. lift_share: most of the lift limit used.
    profile: (seconds, feet above the start). track: (IAS, g). Speeds in the aircraft's unit."""

    parts: tuple[tuple[str, float, float], ...]
    lost_ft: float
    deepest_ft: float
    rise_ft: float
    before_recovery_ft: float
    seconds: float
    exit_ias: float
    fastest_ias: float
    most_g: float
    most_rolling_g: float | None
    least_g: float
    longest_negative_s: float
    limited: bool
    lift_share: float
    buffet: bool
    along_m: float
    shortfall: Shortfall | None
    profile: tuple[tuple[float, float], ...]
    track: tuple[tuple[float, float], ...]

    @property
    def made(self) -> bool:
        return self.shortfall is None


def pilot_numbers(who: Who, **changed: float) -> dict[str, Floats]:
    """The usual pilot's numbers with `changed` added to them by name. Raises KeyError for a number that there
    is not."""
    numbers = usual_numbers(who)
    for name, by in changed.items():
        numbers[name] = numbers[name] + by
    return numbers


def usual_loss_ft(
    planned: PlannedFigure, conditions: Conditions, who: Who = "student", **changed: float
) -> float:
    """Start to end (ft) by the usual pilot, without the trace."""
    course = fly(planned, conditions, pilot_numbers(who, **changed), planned.start_ft * FT)
    return sum(float(part.lost[0]) for part in course.parts) / FT


def fly_usual(
    planned: PlannedFigure, conditions: Conditions, who: Who = "student", **changed: float
) -> Flown:
    """The figure as the usual pilot flies it from the planned height. `changed` adds to the pilot's numbers
    by name."""
    return flown_of(
        planned,
        conditions,
        fly(planned, conditions, pilot_numbers(who, **changed), planned.start_ft * FT, trace=True),
    )


def flown_of(planned: PlannedFigure, conditions: Conditions, course: Course) -> Flown:
    """The course of one pilot in feet and the aircraft's speeds."""
    start_m = planned.start_ft * FT
    parts: dict[str, list[float]] = {}
    for part in course.parts:
        line = parts.setdefault(part.name, [0.0, 0.0])
        line[0] += float(part.lost[0]) / FT
        line[1] += float(part.seconds[0])
    kept = tuple(
        (name, lost, seconds) for name, (lost, seconds) in parts.items() if abs(lost) > 1e-6 or seconds > 1e-6
    )
    lost_ft = sum(lost for _, lost, _ in kept)
    profile = profile_of(course, start_m)
    rows = course.trace
    thinned = rows[:: max(1, len(rows) // 40)]
    thinned = np.vstack([thinned, rows[-1:]])
    speeds = np.round(ias_along(conditions, thinned[:, engine.R_EAS], thinned[:, engine.R_HEIGHT]), 1)
    track = tuple(zip(speeds.tolist(), np.round(thinned[:, engine.R_G], 2).tolist(), strict=True))
    end_m = float(rows[-1, engine.R_HEIGHT])
    rolling = float(course.rolling_g[0])
    return Flown(
        parts=kept,
        lost_ft=lost_ft,
        deepest_ft=(start_m - float(course.lowest[0])) / FT,
        rise_ft=(float(course.highest[0]) - start_m) / FT,
        before_recovery_ft=(start_m - float(course.recovery_m[0])) / FT,
        seconds=float(rows[-1, engine.R_TIME]),
        exit_ias=ias_of(conditions, float(rows[-1, engine.R_EAS]), end_m),
        fastest_ias=ias_of(conditions, float(course.fastest[0]), end_m),
        most_g=float(course.most_g[0]),
        most_rolling_g=None if np.isnan(rolling) else rolling,
        least_g=float(course.least_g[0]),
        longest_negative_s=longest_negative_s(rows),
        limited=bool(course.limited[0]),
        lift_share=float(course.share[0]),
        buffet=float(course.share[0]) >= BUFFET_SHARE,
        along_m=float(rows[-1, engine.R_NORTH]),
        shortfall=shortfall_of(planned, conditions, course),
        profile=profile,
        track=track,
    )


def longest_negative_s(rows: Floats) -> float:
    """Seconds on end at less than no g. rows: a trace (R, ROW_COLUMNS)."""
    longest = run = 0.0
    for seconds, g in zip(np.diff(rows[:, engine.R_TIME]), rows[1:, engine.R_G], strict=True):
        run = run + float(seconds) if g < 0.0 else 0.0
        longest = max(longest, run)
    return longest


def profile_of(course: Course, start_m: float, points: int = 40) -> tuple[tuple[float, float], ...]:
    """(seconds, feet above the start). Height let go while turning has no seconds of its own and happens
    evenly."""
    evenly = sum(float(part.lost[0]) for part in course.parts if part.name == HEIGHT_KEEPING) / FT
    rows = course.trace
    total = max(1e-6, float(rows[-1, engine.R_TIME]))
    thinned = np.vstack([rows[:: max(1, len(rows) // points)], rows[-1:]])
    times, heights = (
        thinned[:, engine.R_TIME],
        (thinned[:, engine.R_HEIGHT] - start_m) / FT + evenly * (1.0 - thinned[:, engine.R_TIME] / total),
    )
    order = np.argsort(times, kind="stable")
    return (
        (0.0, 0.0),
        *zip(np.round(times[order], 2).tolist(), np.round(heights[order], 1).tolist(), strict=True),
    )


DOES_NOT_STOP = Shortfall("Until it stops", "the rotation does not stop so", None)
SPUN_OTHERWISE = {
    SPIRALLED: Shortfall("Entry", "becomes a spiral, not a spin", None),
    OTHER_WAY: Shortfall("Until it stops", "goes over into a spin the other way", None),
    NEVER_STOPPED: DOES_NOT_STOP,
}
STATUS_WORDS = {engine.STOPPED_FLYING: "runs out of speed", engine.TIMED_OUT: "never gets there"}


def shortfall_of(planned: PlannedFigure, conditions: Conditions, course: Course) -> Shortfall | None:
    """What stops the usual pilot: a leg too slow to be flown as meant, or one that never ends; None when it
    can be flown."""
    if course.spun is not None and course.spun[0, T_OUTCOME] in SPUN_OTHERWISE:
        return SPUN_OTHERWISE[float(course.spun[0, T_OUTCOME])]
    for summaries, names in course.flown:
        for row, name in zip(summaries[0], names, strict=True):
            if row[engine.S_MARGIN] < 0:
                speed = ias_of(conditions, -float(row[engine.S_MARGIN]), 0.0)
                return Shortfall(name, "falls out of it, too slow", speed)
            if row[engine.S_STATUS] != engine.MADE:
                return Shortfall(name, STATUS_WORDS[float(row[engine.S_STATUS])], None)
    if figure_of(planned.key).holds_height and course.limited[0]:
        return Shortfall("Turn", "the wing cannot hold the height", None)
    return None


def fan_losses(
    planned: PlannedFigure, conditions: Conditions, numbers: Numbers, start_m: float
) -> tuple[Floats, Floats]:
    """Height lost (m) from the start, and from where the recovery begins, to the lowest point: arrays (N,).
    nan for a pilot who never gets out of it: his path has no end, and no height is made up for it."""
    return losses_of(fly(planned, conditions, numbers, start_m), start_m)


def losses_of(course: Course, start_m: float) -> tuple[Floats, Floats]:
    """The same of a course."""
    lost, recovery = start_m - course.lowest, course.recovery_m - course.lowest
    return np.where(course.made > 0, lost, np.nan), np.where(course.made > 0, recovery, np.nan)


def within(lost: Floats, times_in_100: float) -> float:
    """The loss that this many pilots in 100 stay within; those who never get out count as beyond every loss.
    inf when too many do."""
    ordered = np.sort(np.where(np.isnan(lost), np.inf, lost))
    at = times_in_100 / 100.0 * (len(ordered) - 1)
    low, high = ordered[int(np.floor(at))], ordered[int(np.ceil(at))]
    return float(low if low == high else low + (high - low) * (at - np.floor(at)))
