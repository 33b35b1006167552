"""Where the height went, from a pilot's numbers: one after the other, in the order in which they happen, they
are replaced by the best; the steps add up exactly to flown minus best.

The last step of an upset is the school's: what its order of steps costs against the best that the aircraft
allowed, so that a student is not blamed for the school's choice."""

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from keelturn.assess.best import State, mathematical_bound, practical_best
from keelturn.document import Wrong
from keelturn.figures.catalogue import figure_of
from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.flying.course import fly
from keelturn.flying.numbers import entry_tas, figure_numbers
from keelturn.flying.pilots import Who, cannot_be, usual_numbers
from keelturn.motion.legs import look_up
from keelturn.units import DEG, FT

# A pilot who waits for wings level is compared with one who does not.
PULLS_FROM_DEG = 15.0
# Each step: what it is called, and the numbers that become the best in it, in the order in which they happen
# in a recovery.
STEPS: tuple[tuple[str, Mapping[str, float]], ...] = (
    (
        "Entry",
        {
            "entry_stick": 1.0,
            "entry_rudder": 1.0,
            "aileron_in": 0.0,
            "power_left": 0.0,
            "speed_error_kt": 0.0,
            "angle_error_deg": 0.0,
            "height_keeping_ft": 0.0,
        },
    ),
    ("Called late", {"turn_error": 0.0}),
    ("Seeing it", {"delay_s": 0.0, "call_s": 0.0, "lag_s": 0.0}),
    ("Throttle", {"throttle_s": 1e-6, "close_s": 0.0}),
    ("Moving the controls", {"hand_s": 0.02}),
    ("Rudder", {"rudder_share": 1.0, "aileron_recovery": 0.0}),
    ("Rudder to stick", {"gap_s": 0.0}),
    ("Stick", {"stick_error": 0.0}),
    ("Inputs taken out too soon", {"gives_up_s": 0.0}),
    ("Held after it stopped", {"rudder_held_s": 0.0, "stick_held_s": 0.0}),
    ("g while rolling", {"roll_g": 1.0}),
    ("Rolling slowly", {"roll_share": 1.0, "roll_acc_deg_s2": 1e6}),
    ("Rotation stops to pull", {"centre_s": 0.0}),
    ("Bringing g on", {"onset_g_s": 1e6}),
    ("Waiting for wings level", {"pull_from_bank_deg": PULLS_FROM_DEG}),
    ("Pull", {"pull_g": 0.0, "ease_error_g": 0.0}),
)
SCHOOLS_CHOICE = "The school's order of steps"


@dataclass(frozen=True, slots=True)
class Step:
    name: str
    height_ft: float


@dataclass(frozen=True, slots=True)
class Where:
    """Feet, start to lowest point. flown_ft = best_ft + the sum of the steps, exactly. bound_ft: the
    mathematical bound, never a technique; None for figures that have no recovery to optimise (spins and
    stalls), where best is this school flown promptly."""

    flown_ft: float
    steps: tuple[Step, ...]
    school_best_ft: float
    best_ft: float
    bound_ft: float | None


def where_height_went(
    planned: PlannedFigure, conditions: Conditions, pilot: Mapping[str, float], who: Who = "student"
) -> Where:
    """pilot: the attempt's numbers by name (flying/pilots.py), those missing are the usual ones. Raises
    ValueError for a name that there is not."""
    if found := tuple(t for name, value in pilot.items() for t in cannot_be(name, (value,))):
        raise Wrong(*found)
    numbers: dict[str, float] = {name: float(value[0]) for name, value in usual_numbers(who).items()} | dict(
        pilot
    )
    start_m = planned.start_ft * FT

    def lost() -> float:
        return (
            start_m
            - float(
                fly(planned, conditions, {k: np.array([v]) for k, v in numbers.items()}, start_m).lowest[0]
            )
        ) / FT

    flown = before = lost()
    steps = []
    harder = max(0.0, numbers["pull_g"])
    for name, better in STEPS:
        changed = {key: value for key, value in better.items() if numbers.get(key) != value}
        # A pull harder than briefed is not taken away from the best: it was there to be used.
        if "pull_g" in changed and harder > 0:
            del changed["pull_g"]
        if numbers["pull_from_bank_deg"] > PULLS_FROM_DEG:
            changed.pop("pull_from_bank_deg", None)
        if not changed:
            continue
        numbers.update(changed)
        after = lost()
        if abs(before - after) > 1e-9:
            steps.append(Step(name, before - after))
        before = after
    school_best = before
    state = _state_of(planned, conditions, numbers)
    if state is None:
        return Where(flown, tuple(steps), school_best, school_best, None)
    most = planned.parameter("pull_g") + harder
    best = min(practical_best(state, conditions, most).lost_ft, school_best)
    steps.append(Step(SCHOOLS_CHOICE, school_best - best))
    return Where(flown, tuple(steps), school_best, best, mathematical_bound(state, conditions, most).lost_ft)


def _state_of(planned: PlannedFigure, conditions: Conditions, numbers: Mapping[str, float]) -> State | None:
    """Where an upset begins, for the best; None for other figures."""
    figure = figure_of(planned.key)
    if not figure.upset or figure.situation not in ("nose low", "inverted"):
        return None
    start_m = planned.start_ft * FT
    named = figure_numbers(planned, conditions, {k: np.array([v]) for k, v in numbers.items()}, start_m)
    bank, path = (
        float(np.ravel(look_up(n, named))[0]) for n in (figure.begin.bank_deg, figure.begin.path_deg)
    )
    tas = float(np.ravel(entry_tas(planned, conditions, named, start_m))[0])
    throttle = float(np.ravel(named["throttle_start"])[0])
    return State(planned.start_ft, tas, bank, path, float(np.cos(path * DEG)), throttle)
