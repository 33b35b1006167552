"""A figure's trace looked at closely: where the nose points, and what a spin's account leaves out filled
in."""

import numpy as np

from keelturn.figures.planned import PlannedFigure
from keelturn.flying.course import HEIGHT_KEEPING, IN_SPIN, Course
from keelturn.motion import engine
from keelturn.motion.legs import Floats
from keelturn.units import DEG

# Angle of attack without lift and at the stall, for the pitch that a gyro sees (common practice, no published
# source).
ALPHA_0, ALPHA_STALL = -2.0 * DEG, 15.0 * DEG
# A spin as a gyro sees it (common practice, no published source).
SPIN_PITCH, SPIN_BANK = -55.0 * DEG, 20.0 * DEG
# Truth columns, SI and radians.
TIME, HEIGHT, TAS, EAS, G, PATH, BANK, HEADING, EAST, NORTH, THROTTLE, ROLL, LEG = range(13)
FROM_ROWS = (
    engine.R_TIME,
    engine.R_HEIGHT,
    engine.R_TAS,
    engine.R_EAS,
    engine.R_G,
    engine.R_PATH,
    engine.R_BANK,
    engine.R_HEADING,
    engine.R_EAST,
    engine.R_NORTH,
    engine.R_POWER,
    engine.R_ROLL,
    engine.R_LEG,
)


def trace_of(course: Course, planned: PlannedFigure) -> Floats:
    """Rows (R, 13) of the columns above, begun at second 0 on heading 0. Height let go while turning is
    spread over the figure; a spin has ten rows a second and turns."""
    rows = np.vstack(course.rows)[:, FROM_ROWS]
    kept = sum(float(part.lost[0]) for part in course.parts if part.name == HEIGHT_KEEPING)
    rows[:, HEIGHT] += kept * (1.0 - rows[:, TIME] / max(1e-6, float(rows[-1, TIME])))
    side = -1.0 if planned.side == "left" else 1.0
    rows = _filled(rows)
    spinning = rows[:, LEG] == IN_SPIN
    if spinning.any():
        first = float(rows[spinning, TIME][0])
        # Rotation while the account runs: the turns planned and those it takes to stop.
        around = 2.0 * np.pi * (planned.parameter("turns") + 1.0) * side
        last = float(rows[spinning, TIME][-1])
        rows[spinning, HEADING] += around * (rows[spinning, TIME] - first) / max(1e-6, last - first)
        rows[rows[:, TIME] > last, HEADING] += around
        rows[spinning, BANK] = SPIN_BANK * side
    return rows


def _filled(rows: Floats) -> Floats:
    """A spin's account has a row for each of its parts: filled in to ten rows a second, so that its rotation
    can be followed."""
    spinning = np.flatnonzero(rows[:, LEG] == IN_SPIN)
    if not len(spinning):
        return rows
    first, last = spinning[0], spinning[-1]
    span = rows[first : last + 1]
    times = np.linspace(span[0, TIME], span[-1, TIME], max(2, int(10 * (span[-1, TIME] - span[0, TIME]))))
    filled = np.stack([np.interp(times, span[:, TIME], column) for column in span.T], axis=1)
    return np.vstack([rows[:first], filled, rows[last + 1 :]])


def attitude(rows: Floats, stall_eas: float) -> tuple[Floats, Floats, Floats]:
    """Pitch, bank and heading of the nose (rad) from the flight path: the angle of attack goes with the share
    of the lift limit."""
    path, bank, track = rows[:, PATH], rows[:, BANK], rows[:, HEADING]
    share = np.clip(rows[:, G] * (stall_eas / np.maximum(rows[:, EAS], 1.0)) ** 2, -1.0, 1.0)
    alpha = ALPHA_0 + (ALPHA_STALL - ALPHA_0) * share
    east, north = np.sin(track), np.cos(track)
    u = np.stack([np.cos(path) * east, np.cos(path) * north, np.sin(path)], axis=1)
    c, s = np.cos(bank), np.sin(bank)
    lift = np.stack(
        [-c * np.sin(path) * east + s * north, -c * np.sin(path) * north - s * east, c * np.cos(path)], axis=1
    )
    nose = np.cos(alpha)[:, None] * u + np.sin(alpha)[:, None] * lift
    up = np.cos(alpha)[:, None] * lift - np.sin(alpha)[:, None] * u
    right = np.cross(u, lift)
    spinning = rows[:, LEG] == IN_SPIN
    pitch = np.where(spinning, SPIN_PITCH, np.arcsin(np.clip(nose[:, 2], -1.0, 1.0)))
    return (
        pitch,
        np.where(spinning, bank, np.arctan2(-right[:, 2], up[:, 2])),
        np.where(spinning, track, np.arctan2(nose[:, 0], nose[:, 1])),
    )
