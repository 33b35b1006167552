"""The legs a figure is made of, as data, and their translation into what the engine flies.

A number in a leg is a plain number or the *name* of one ("pull_g", "bank_deg"): names are looked up among the
figure's own parameters and the pilot's numbers, which may be arrays (one entry a pilot), when the leg is
compiled. A name with a minus before it is the number's opposite."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from keelturn.motion import equations as eq
from keelturn.units import DEG, FT

Number = float | str
Numbers = Mapping[str, "float | NDArray[np.float64]"]
Floats = NDArray[np.float64]
End = Literal[
    "seconds",
    "path_up_to_deg",
    "path_down_to_deg",
    "stall_ratio_up_to",
    "stall_ratio_down_to",
    "eas_up_to",
    "turned_deg",
    "pulled_to_deg",
    "pushed_to_deg",
    "height_changed_ft",
]
Lift = Literal["g", "line", "share of weight"]
Kind = Literal["flies", "yaws over", "falls through", "spins"]

ENDS: Mapping[str, tuple[int, float]] = {
    "seconds": (eq.BY_TIME, 1.0),
    "path_up_to_deg": (eq.BY_PATH_UP, DEG),
    "path_down_to_deg": (eq.BY_PATH_DOWN, DEG),
    "stall_ratio_up_to": (eq.BY_SPEED_UP, 1.0),
    "stall_ratio_down_to": (eq.BY_SPEED_DOWN, 1.0),
    "eas_up_to": (eq.BY_SPEED_UP, 1.0),
    "turned_deg": (eq.BY_TURN, DEG),
    "pulled_to_deg": (eq.BY_LOOP, DEG),
    "pushed_to_deg": (eq.BY_LOOP, DEG),
    "height_changed_ft": (eq.BY_CLIMB, FT),
}
LIFTS: Mapping[str, float] = {"g": eq.LIFT_G, "line": eq.LIFT_LINE, "share of weight": eq.LIFT_SHARE}
KINDS: Mapping[str, float] = {"flies": eq.FLIES, "yaws over": eq.YAWS, "falls through": eq.PITCHES}
LONGEST_S = 60.0


@dataclass(frozen=True, slots=True)
class Leg:
    """One thing the pilot does until something ends it.

    part: the line of the height account this leg belongs to. g: load factor commanded; None to keep the
    flight path ("line"). lift "share of weight" commands g times what the bank leaves of the weight: a slow
    roll. throttle: 0 to 1, None to leave it. The leg ends by rolling to a bank the short way (roll_to_deg;
    roll_on to go on rolling into the next leg), by rolling through an angle (roll_through_deg, right
    positive), or by `until` reaching `amount`: seconds; flight path up or down to an angle; speed to a
    multiple of Vs, or to an EAS in m/s; degrees turned; the loop angle pulled or pushed to (0 level upright,
    90 up, 180 level inverted, 270 down); feet climbed or dropped. roll_share: of full aileron. drag: times
    the parabola's (slip, flick, stall). least_vs: the speed below which this leg cannot be flown as meant, as
    a multiple of Vs. kind: "yaws over" and "falls through" swing the nose by `swing_deg` in `amount` seconds
    when there is no speed to fly; "spins" is the spin account. top_rudder: share of the weight that the
    fuselage carries at knife edge. on_its_back: share of the push that holds it up there, where the lift is a
    share of the weight. scoop: g pulled half way between a roll's back and the knife edge after it. eased:
    share of the lift limit not exceeded, as with the stick held still: g falls with the square of the speed.
    roll_within_deg: rolls toward level until the bank is within this, and on into the next leg."""

    part: str
    g: Number | None = None
    throttle: Number | None = None
    roll_to_deg: Number | None = None
    until: End = "seconds"
    amount: Number = 0.0
    lift: Lift = "g"
    roll_through_deg: Number | None = None
    roll_within_deg: Number | None = None
    roll_share: Number = "roll_share"
    roll_on: bool = False
    drag: Number = 1.0
    least_vs: float = 0.0
    kind: Kind = "flies"
    swing_deg: Number = 180.0
    onset_g_s: Number = "onset_g_s"
    top_rudder: Number = 0.0
    on_its_back: Number = 1.0
    scoop: Number = 0.0
    eased: Number = 0.0


SPIN = Leg("Spin", kind="spins")


def look_up(number: Number, numbers: Numbers) -> "float | Floats":
    """Raises KeyError naming the number that is missing."""
    if not isinstance(number, str):
        return number
    if number.startswith("-"):
        return -np.asarray(numbers[number[1:]])
    return numbers[number]


def _row(leg: Leg, throttle: Number, numbers: Numbers, stall_eas: float) -> list["float | Floats"]:
    row: list[float | Floats] = [0.0] * eq.LEG_COLUMNS
    row[eq.KIND] = KINDS[leg.kind]
    row[eq.LIFT] = eq.LIFT_LINE if leg.g is None else LIFTS[leg.lift]
    row[eq.G_CMD] = 1.0 if leg.g is None else look_up(leg.g, numbers)
    row[eq.ONSET] = look_up(leg.onset_g_s, numbers)
    row[eq.G_SHARE] = look_up("lift_share", numbers)
    row[eq.POWER] = look_up(throttle, numbers)
    row[eq.POWER_S] = look_up("throttle_s", numbers)
    row[eq.ROLL_SHARE] = look_up(leg.roll_share, numbers)
    row[eq.ROLL_ACC] = look_up("roll_acc_deg_s2", numbers) * DEG
    row[eq.MOST_S] = LONGEST_S
    row[eq.DRAG] = look_up(leg.drag, numbers)
    row[eq.EASED] = look_up(leg.eased, numbers)
    row[eq.TOP_RUDDER] = look_up(leg.top_rudder, numbers)
    row[eq.ON_ITS_BACK] = look_up(leg.on_its_back, numbers)
    row[eq.SCOOP] = look_up(leg.scoop, numbers)
    row[eq.LEAST_EAS] = leg.least_vs * stall_eas
    row[eq.LAG] = numbers.get("lag_s", 0.0)
    if leg.roll_to_deg is not None:
        row[eq.BANK] = look_up(leg.roll_to_deg, numbers) * DEG
        row[eq.END] = float(eq.BY_ROLL_PAST if leg.roll_on else eq.BY_ROLL)
    elif leg.roll_within_deg is not None:
        row[eq.BANK] = look_up(leg.roll_within_deg, numbers) * DEG
        row[eq.END] = float(eq.BY_ROLL_WITHIN)
    elif leg.roll_through_deg is not None:
        around = look_up(leg.roll_through_deg, numbers)
        row[eq.BANK], row[eq.AROUND] = np.sign(around), np.abs(around) * DEG
        row[eq.END] = float(eq.BY_ROLL_THROUGH)
    else:
        end, unit = ENDS[leg.until]
        amount = look_up(leg.amount, numbers) * unit
        if end in (eq.BY_PATH_UP, eq.BY_PATH_DOWN):
            amount = np.sin(amount)
        elif leg.until.startswith("stall"):
            amount = amount * stall_eas
        row[eq.END], row[eq.END_AT] = float(end), amount
        if end == eq.BY_LOOP:
            row[eq.AROUND] = 1.0 if leg.until == "pulled_to_deg" else -1.0
        if leg.kind != "flies":
            swing = look_up(leg.swing_deg, numbers)
            row[eq.BANK] = np.sign(swing) if leg.kind == "yaws over" else 1.0
            row[eq.AROUND] = np.abs(swing) * DEG if leg.kind == "yaws over" else swing * DEG
    return row


def _stops_a_roll(leg: Leg) -> bool:
    return (leg.roll_to_deg is not None or leg.roll_through_deg is not None) and not leg.roll_on


def rows_of(legs: Sequence[Leg]) -> int:
    """How many rows these legs make: a roll that is stopped is two."""
    return sum(2 if _stops_a_roll(leg) else 1 for leg in legs)


def compile_legs(
    legs: Sequence[Leg], numbers: Numbers, stall_eas: float, pilots: int
) -> tuple[Floats, tuple[str, ...]]:
    """Legs as the engine takes them, shape (pilots, rows, LEG_COLUMNS), and the account part of each row.

    `numbers` must hold the pilot's: onset_g_s, lift_share, throttle_s, roll_share, roll_acc_deg_s2. A roll
    becomes two rows: rolling, and stopping the roll. Where lag_s is given, the aircraft answers each change
    of g that late, and goes on meanwhile to what was asked before; a roll's own delay is its acceleration.
    stall_eas: Vs today, m/s EAS, that multiples of Vs refer to."""
    rows: list[list[float | Floats]] = []
    parts: list[str] = []
    throttle: Number = "throttle_start"
    for leg in legs:
        throttle = throttle if leg.throttle is None else leg.throttle
        row = _row(leg, throttle, numbers, stall_eas)
        rows.append(row)
        parts.append(leg.part)
        if _stops_a_roll(leg):
            stop = list(row)
            stop[eq.END] = float(eq.BY_ROLL_STOP)
            rows.append(stop)
            parts.append(leg.part)
    found = np.empty((pilots, len(rows), eq.LEG_COLUMNS))
    for r, values in enumerate(rows):
        for c, value in enumerate(values):
            found[:, r, c] = value
    return found, tuple(parts)


ROLLS = np.isin(np.arange(13), (eq.BY_ROLL, eq.BY_ROLL_PAST, eq.BY_ROLL_THROUGH, eq.BY_ROLL_WITHIN))


def rolling_rows(legs: Floats) -> NDArray[np.bool_]:
    """Which compiled rows (of the first pilot) roll."""
    end = legs[0, :, eq.END]
    rolling: NDArray[np.bool_] = ROLLS[end.astype(int)]
    return rolling
