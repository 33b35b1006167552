"""The legs a figure is made of, as data, and their translation into what the engine flies.

A number in a leg is a plain number or the *name* of one ("pull_g", "bank_deg"): names are looked up among the figure's own
parameters and the pilot's numbers, which may be arrays (one entry a pilot), when the leg is compiled.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from keelturn.motion import engine
from keelturn.units import DEG

Number = float | str
Numbers = Mapping[str, "float | NDArray[np.float64]"]
Floats = NDArray[np.float64]
End = Literal["seconds", "path_up_to_deg", "path_down_to_deg", "stall_ratio_up_to", "turned_deg"]

ENDS = {
    "seconds": (engine.BY_TIME, 1.0),
    "path_up_to_deg": (engine.BY_PATH_UP, DEG),
    "path_down_to_deg": (engine.BY_PATH_DOWN, DEG),
    "stall_ratio_up_to": (engine.BY_SPEED_UP, 1.0),
    "turned_deg": (engine.BY_TURN, DEG),
}
LONGEST_S = 60.0


@dataclass(frozen=True, slots=True)
class Leg:
    """One thing the pilot does until something ends it.

    part: the line of the height account this leg belongs to. g: load factor commanded, None to hold the height.
    throttle: 0 to 1, None to leave it. roll_to_deg: roll to this bank (ends the leg), else `until` and `amount` end it:
    seconds; flight path up or down to an angle in degrees; speed up to a multiple of Vs; degrees turned.
    """

    part: str
    g: Number | None = None
    throttle: Number | None = None
    roll_to_deg: Number | None = None
    until: End = "seconds"
    amount: Number = 0.0


def look_up(number: Number, numbers: Numbers) -> "float | Floats":
    """Raises KeyError naming the number that is missing."""
    return numbers[number] if isinstance(number, str) else number


def compile_legs(legs: Sequence[Leg], numbers: Numbers, stall_eas: float, pilots: int) -> tuple[Floats, tuple[str, ...]]:
    """Legs as the engine takes them, shape (pilots, rows, LEG_COLUMNS), and the account part of each row.

    `numbers` must hold the pilot's: onset_g_s, lift_share, throttle_s, roll_share, roll_acc_deg_s2. A roll becomes two
    rows: rolling, and stopping the roll. stall_eas: Vs today, m/s EAS, that `stall_ratio_up_to` refers to.
    """
    rows: list[Floats] = []
    parts: list[str] = []
    throttle: Number = "throttle_start"
    for leg in legs:
        throttle = throttle if leg.throttle is None else leg.throttle
        row = np.zeros((pilots, engine.LEG_COLUMNS))
        row[:, engine.LIFT] = engine.LIFT_LEVEL if leg.g is None else engine.LIFT_G
        row[:, engine.G_CMD] = 1.0 if leg.g is None else look_up(leg.g, numbers)
        row[:, engine.ONSET] = look_up("onset_g_s", numbers)
        row[:, engine.G_SHARE] = look_up("lift_share", numbers)
        row[:, engine.POWER] = look_up(throttle, numbers)
        row[:, engine.POWER_S] = look_up("throttle_s", numbers)
        row[:, engine.ROLL_SHARE] = look_up("roll_share", numbers)
        row[:, engine.ROLL_ACC] = np.asarray(look_up("roll_acc_deg_s2", numbers)) * DEG
        row[:, engine.MOST_S] = LONGEST_S
        if leg.roll_to_deg is not None:
            row[:, engine.BANK] = np.asarray(look_up(leg.roll_to_deg, numbers)) * DEG
            row[:, engine.END] = engine.BY_ROLL
            stop = row.copy()
            stop[:, engine.END] = engine.BY_ROLL_STOP
            rows += [row, stop]
            parts += [leg.part, leg.part]
            continue
        end, unit = ENDS[leg.until]
        amount = np.asarray(look_up(leg.amount, numbers)) * unit
        if leg.until.startswith("path"):
            amount = np.sin(amount)
        elif leg.until.startswith("stall"):
            amount = amount * stall_eas
        row[:, engine.END], row[:, engine.END_AT] = end, amount
        rows.append(row)
        parts.append(leg.part)
    return np.stack(rows, axis=1), tuple(parts)
