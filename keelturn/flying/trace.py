"""A figure's trace looked at closely: where the nose points, and what the controls do in a spin."""

import numpy as np

from keelturn.flying.conditions import Conditions
from keelturn.flying.parts import HEIGHT_KEEPING, Course
from keelturn.motion import engine
from keelturn.motion.legs import Floats
from keelturn.spinning.engine import X_AILERON, X_ALPHA, X_RUDDER, X_STICK
from keelturn.units import DEG

# Angle of attack without lift and at the stall, for the pitch that a gyro sees (common practice, no published
# source).
ALPHA_0, ALPHA_STALL = -2.0 * DEG, 15.0 * DEG
# Truth columns, SI and radians; ALPHA and the controls only in a spin, nan elsewhere.
(TIME, HEIGHT, TAS, EAS, G, PATH, BANK, HEADING, EAST, NORTH, THROTTLE, ROLL, LEG) = range(13)
ALPHA, STICK, RUDDER, AILERON = range(13, 17)
COLUMNS = 17
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
IN_A_SPIN = (X_ALPHA, X_STICK, X_RUDDER, X_AILERON)


def trace_of(course: Course) -> Floats:
    """Of the only pilot: rows (R, COLUMNS) of the columns above, begun at second 0 on heading 0. Height let
    go while turning is spread over the figure."""
    (rows,) = traces_of(course)
    return rows


def traces_of(course: Course) -> list[Floats]:
    """The same of each pilot."""
    found = []
    for at, pieces in enumerate(course.traces):
        rows = np.vstack([_piece(rows) for rows in pieces])
        kept = sum(float(part.lost[at]) for part in course.parts if part.name == HEIGHT_KEEPING)
        rows[:, HEIGHT] += kept * (1.0 - rows[:, TIME] / max(1e-6, float(rows[-1, TIME])))
        found.append(rows)
    return found


def _piece(rows: Floats) -> Floats:
    made = np.full((len(rows), COLUMNS), np.nan)
    made[:, : len(FROM_ROWS)] = rows[:, FROM_ROWS]
    if rows.shape[1] > engine.ROW_COLUMNS:
        made[:, ALPHA : AILERON + 1] = rows[:, IN_A_SPIN]
    return made


def axes(rows: Floats, stall_eas: float) -> tuple[Floats, Floats, Floats]:
    """Unit vectors (R, 3), east, north and up, along nose, head and right wing, from the flight path: the
    angle of attack is the spin's own, and goes with the share of the lift limit elsewhere."""
    path, bank, track = rows[:, PATH], rows[:, BANK], rows[:, HEADING]
    share = rows[:, G] * (stall_eas / np.maximum(rows[:, EAS], 1.0)) ** 2
    share = np.minimum(np.maximum(share, -1.0), 1.0)
    alpha = ALPHA_0 + (ALPHA_STALL - ALPHA_0) * share
    spinning = ~np.isnan(rows[:, ALPHA])
    alpha[spinning] = rows[spinning, ALPHA] + ALPHA_0
    east, north = np.sin(track), np.cos(track)
    up, flat = np.sin(path), np.cos(path)
    c, s = np.cos(bank), np.sin(bank)
    u = np.stack([flat * east, flat * north, up], axis=1)
    lift = np.stack([s * north - c * up * east, -s * east - c * up * north, c * flat], axis=1)
    right = np.stack([c * north + s * up * east, s * up * north - c * east, -s * flat], axis=1)
    ahead, aloft = np.cos(alpha)[:, None], np.sin(alpha)[:, None]
    return ahead * u + aloft * lift, ahead * lift - aloft * u, right


def attitude(rows: Floats, stall_eas: float) -> tuple[Floats, Floats, Floats]:
    """Pitch, bank and heading of the nose (rad)."""
    nose, head, right = axes(rows, stall_eas)
    return (
        np.arcsin(np.clip(nose[:, 2], -1.0, 1.0)),
        np.arctan2(-right[:, 2], head[:, 2]),
        np.arctan2(nose[:, 0], nose[:, 1]),
    )


def controls(rows: Floats, conditions: Conditions) -> Floats:
    """Throttle, aileron, rudder and stick (R, 4), shares of full travel, right and back positive: in a spin
    the pilot's own; elsewhere aileron by the rate of roll, stick by the share of the lift limit, and the ball
    in the middle without rudder."""
    frame, spinning = conditions.frame, ~np.isnan(rows[:, STICK])
    share = rows[:, G] * (frame.stall / np.maximum(rows[:, EAS], 1.0)) ** 2
    moved = np.stack(
        [
            rows[:, THROTTLE],
            np.where(spinning, rows[:, AILERON], rows[:, ROLL] / frame.roll_right),
            np.where(spinning, rows[:, RUDDER], 0.0),
            np.where(spinning, rows[:, STICK], share),
        ],
        axis=1,
    )
    return np.asarray(np.clip(moved, (0.0, -1.0, -1.0, -1.0), 1.0))
