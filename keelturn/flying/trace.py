"""A figure's trace looked at closely: where the nose points, and what the controls do in a spin."""

import numpy as np

from keelturn.figures.planned import PlannedFigure
from keelturn.flying.course import HEIGHT_KEEPING, Course
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


def trace_of(course: Course, planned: PlannedFigure) -> Floats:
    """Rows (R, COLUMNS) of the columns above, begun at second 0 on heading 0. Height let go while turning is
    spread over the figure."""
    pieces = [_piece(rows) for rows in course.rows]
    rows = np.vstack(pieces)
    kept = sum(float(part.lost[0]) for part in course.parts if part.name == HEIGHT_KEEPING)
    rows[:, HEIGHT] += kept * (1.0 - rows[:, TIME] / max(1e-6, float(rows[-1, TIME])))
    return rows


def _piece(rows: Floats) -> Floats:
    made = np.full((len(rows), COLUMNS), np.nan)
    made[:, : len(FROM_ROWS)] = rows[:, FROM_ROWS]
    if rows.shape[1] > engine.ROW_COLUMNS:
        made[:, ALPHA : AILERON + 1] = rows[:, IN_A_SPIN]
    return made


def attitude(rows: Floats, stall_eas: float) -> tuple[Floats, Floats, Floats]:
    """Pitch, bank and heading of the nose (rad) from the flight path: the angle of attack is the spin's own,
    and goes with the share of the lift limit elsewhere."""
    path, bank, track = rows[:, PATH], rows[:, BANK], rows[:, HEADING]
    share = np.clip(rows[:, G] * (stall_eas / np.maximum(rows[:, EAS], 1.0)) ** 2, -1.0, 1.0)
    alpha = ALPHA_0 + (ALPHA_STALL - ALPHA_0) * share
    spinning = ~np.isnan(rows[:, ALPHA])
    alpha[spinning] = rows[spinning, ALPHA] + ALPHA_0
    east, north = np.sin(track), np.cos(track)
    u = np.stack([np.cos(path) * east, np.cos(path) * north, np.sin(path)], axis=1)
    c, s = np.cos(bank), np.sin(bank)
    lift = np.stack(
        [-c * np.sin(path) * east + s * north, -c * np.sin(path) * north - s * east, c * np.cos(path)], axis=1
    )
    nose = np.cos(alpha)[:, None] * u + np.sin(alpha)[:, None] * lift
    up = np.cos(alpha)[:, None] * lift - np.sin(alpha)[:, None] * u
    right = np.cross(u, lift)
    return (
        np.arcsin(np.clip(nose[:, 2], -1.0, 1.0)),
        np.arctan2(-right[:, 2], up[:, 2]),
        np.arctan2(nose[:, 0], nose[:, 1]),
    )
