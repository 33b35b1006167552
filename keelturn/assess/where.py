"""Where the height went, from a pilot's numbers: one after the other, in the order in which they happen, they
are replaced by the best; the steps add up exactly to flown minus best.

The last step of an upset is the school's: what its order of steps costs against the best that the aircraft
allowed, so that a student is not blamed for the school's choice."""

from collections.abc import Iterable, Mapping
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
from keelturn.motion.legs import Floats, look_up
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
    ("Held up on side and back", {"top_rudder": 0.3, "on_its_back": 1.0}),
    ("Coming off its back", {"scoop_g": 0.0}),
    ("Rolling slowly", {"roll_share": 1.0, "roll_acc_deg_s2": 1e6}),
    ("Rotation stops to pull", {"centre_s": 0.0}),
    ("Bringing g on", {"onset_g_s": 1e6}),
    ("Waiting for wings level", {"pull_from_bank_deg": PULLS_FROM_DEG}),
    ("Pull", {"pull_g": 0.0, "ease_error_g": 0.0}),
)
SCHOOLS_CHOICE = "The school's order of steps"


def steps_of(numbers: Iterable[str]) -> frozenset[str]:
    """The steps in which these numbers of the pilot's become the best."""
    asked = set(numbers)
    return frozenset(name for name, better in STEPS if asked & set(better))


def _at_best(number: str, was: Floats, best: float) -> Floats:
    """A pull harder than briefed, or from more bank, is not taken away from the best: it was there to be
    used."""
    not_less = number in ("pull_g", "pull_from_bank_deg", "top_rudder", "on_its_back")
    return np.maximum(was, best) if not_less else np.full_like(was, best)


def at_their_best(pilot: Mapping[str, float]) -> dict[str, float]:
    """The same pilot with every number as good as can be: this method flown as well as can be."""
    found = dict(pilot)
    for _, better in STEPS:
        for number, best in better.items():
            found[number] = float(_at_best(number, np.array([found[number]]), best)[0])
    return found


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


@dataclass(frozen=True, slots=True)
class Stepwise:
    """The same of many pilots, arrays (N,): flown_ft = school_best_ft + the sum of the steps, (K, N), named
    in the order in which they happen; and the numbers that are left, all of them the best."""

    names: tuple[str, ...]
    flown_ft: Floats
    steps_ft: Floats
    school_best_ft: Floats
    left: Mapping[str, Floats]

    def of(self, which: slice) -> "Stepwise":
        """Of some of these pilots."""
        left = {name: value[which] for name, value in self.left.items()}
        return Stepwise(
            self.names, self.flown_ft[which], self.steps_ft[:, which], self.school_best_ft[which], left
        )


def stepwise(planned: PlannedFigure, conditions: Conditions, pilots: Mapping[str, Floats]) -> Stepwise:
    """pilots: every number of flying/pilots.py, arrays (N,) or (1,)."""
    many = max(value.size for value in pilots.values())
    now = {name: np.broadcast_to(value, many).astype(float) for name, value in pilots.items()}
    names, stages = [], [now]
    for name, better in STEPS:
        new = dict(now)
        for number, best in better.items():
            new[number] = _at_best(number, now[number], best)
        if any((new[number] != now[number]).any() for number in better):
            names.append(name)
            stages.append(new)
        now = new
    start_m = planned.start_ft * FT
    all_at_once = {name: np.concatenate([stage[name] for stage in stages]) for name in now}
    lost = (start_m - fly(planned, conditions, all_at_once, start_m).lowest.reshape(len(stages), many)) / FT
    return Stepwise(tuple(names), lost[0], lost[:-1] - lost[1:], lost[-1], now)


def where_height_went(
    planned: PlannedFigure, conditions: Conditions, pilot: Mapping[str, float], who: Who = "student"
) -> Where:
    """pilot: the attempt's numbers by name (flying/pilots.py), those missing are the usual ones. Raises
    ValueError for a name that there is not."""
    if wrong := tuple(t for name, value in pilot.items() for t in cannot_be(name, (value,))):
        raise Wrong(*wrong)
    numbers = usual_numbers(who) | {name: np.array([value]) for name, value in pilot.items()}
    found = stepwise(planned, conditions, numbers)
    steps = tuple(
        Step(name, float(height[0]))
        for name, height in zip(found.names, found.steps_ft, strict=True)
        if abs(height[0]) > 1e-9
    )
    flown, school_best = float(found.flown_ft[0]), float(found.school_best_ft[0])
    bests = best_of(planned, conditions, {name: float(value[0]) for name, value in found.left.items()})
    if bests is None:
        return Where(flown, steps, school_best, school_best, None)
    best = min(bests[0], school_best)
    steps = (*steps, Step(SCHOOLS_CHOICE, school_best - best))
    return Where(flown, steps, school_best, best, bests[1])


def best_of(
    planned: PlannedFigure, conditions: Conditions, left: Mapping[str, float]
) -> tuple[float, float] | None:
    """The practical best and the mathematical bound (ft) of an upset whose pilot has the best of all numbers,
    and pulls as hard as he did; None for other figures."""
    state = _state_of(planned, conditions, left)
    if state is None:
        return None
    most = planned.parameter("pull_g") + max(0.0, left["pull_g"])
    return (
        practical_best(state, conditions, most).lost_ft,
        mathematical_bound(state, conditions, most).lost_ft,
    )


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
