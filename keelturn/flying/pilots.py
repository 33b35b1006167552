"""The pilot as numbers: how late, how hard, how fast, and how much that varies from one attempt to the next.

Population defaults: common practice, no published source; chosen so that the figures of docs/model.md come
out where instructors expect them. lag_s and pull_from_bank_deg are set together against the
six-degree-of-freedom library (tests/outside)."""

import math
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, replace
from functools import lru_cache
from types import MappingProxyType
from typing import Literal

import numpy as np

from keelturn.document import Trouble
from keelturn.motion.legs import Floats

Who = Literal["student", "instructor", "reference"]
Form = Literal["normal", "even"]


@dataclass(frozen=True, slots=True)
class Range:
    """What a number is called, and what may be asked of it at all: outside is refused."""

    label: str
    unit: str
    least: float
    most: float
    why: str


SECONDS = "nobody answers before it happens; beyond ten seconds it is another flight"
SHARE = "a share of full travel"
RANGES: Mapping[str, Range] = MappingProxyType(
    {
        "delay_s": Range("Seeing it to first input", "s", 0.0, 10.0, SECONDS),
        "call_s": Range("Call to first input, in a spin", "s", 0.0, 10.0, SECONDS),
        "gap_s": Range(
            "Rudder to stick", "s", -3.0, 5.0, "negative is stick before rudder; later is a fault alone"
        ),
        "turn_error": Range("Recovery called late", "turns", -1.0, 3.0, "more is another number of turns"),
        "rudder_share": Range("Full rudder against", "", 0.0, 1.0, SHARE),
        "stick_error": Range(
            "Stick, against where it should go", "", -1.0, 1.4, "from fully forward to fully back"
        ),
        "hand_s": Range(
            "Moving a control", "s", 0.02, 2.0, "hands and feet take some time, and no more than this"
        ),
        "centre_s": Range("Rotation stops to pull", "s", 0.0, 5.0, SECONDS),
        "entry_stick": Range("Stick back in the entry", "", 0.0, 1.0, SHARE),
        "entry_rudder": Range("Rudder in the entry", "", 0.2, 1.0, "less does not make a spin"),
        "aileron_in": Range(
            "Aileron held in the spin", "", -1.0, 1.0, "into the turn positive, full either way"
        ),
        "aileron_recovery": Range("Aileron held in the recovery", "", -1.0, 1.0, "into the turn positive"),
        "power_left": Range("Power left on in the spin", "", 0.0, 1.0, "idle to full"),
        "close_s": Range("Throttle closed late", "s", 0.0, 10.0, SECONDS),
        "rudder_held_s": Range("Rudder held after it stopped", "s", 0.0, 5.0, SECONDS),
        "stick_held_s": Range("Stick held after it stopped", "s", 0.0, 5.0, SECONDS),
        "gives_up_s": Range("Inputs taken out too soon, for", "s", 0.0, 5.0, SECONDS),
        "pull_g": Range("Pull, against the plan", "g", -3.0, 3.0, "more is another plan"),
        "onset_g_s": Range("g onset", "g/s", 0.1, 1e7, "g that never comes is no pull; at once is 1e6"),
        "throttle_s": Range("Throttle movement", "s", 0.0, 10.0, "idle to full, by hand or by engine"),
        "roll_share": Range(
            "Share of full aileron", "", 0.05, 1.0, "less does not roll it level in a minute"
        ),
        "roll_acc_deg_s2": Range("Roll acceleration", "deg/s2", 20.0, 1e7, "at once is 1e6"),
        "roll_g": Range("g while rolling", "g", -1.0, 4.0, "inside every rolling limit"),
        "top_rudder": Range(
            "Weight that top rudder carries at knife edge", "", 0.0, 0.6, "no fuselage carries more"
        ),
        "on_its_back": Range("Push that holds the nose up on its back", "", 0.0, 1.5, "more is a climb"),
        "scoop_g": Range("Pull while coming off its back", "g", 0.0, 3.0, "more is half a loop"),
        "pull_from_bank_deg": Range(
            "Bank at which the pull begins", "deg", 0.0, 180.0, "wings level to at once"
        ),
        "ease_error_g": Range("Ease-out, against the plan", "g", -1.0, 1.0, "more is another figure"),
        "height_keeping_ft": Range("Height let go while turning", "ft", 0.0, 1000.0, "more is a descent"),
        "speed_error_kt": Range(
            "Speed at the gate, against the plan", "kt", -40.0, 40.0, "more is another gate"
        ),
        "angle_error_deg": Range(
            "Lines and angles, against the plan", "deg", -30.0, 30.0, "more is another line"
        ),
        "lag_s": Range("Aircraft behind the stick", "s", 0.0, 1.0, "slower is no aerobatic aircraft"),
    }
)


@dataclass(frozen=True, slots=True)
class PilotNumber:
    """One number of a pilot: usual value, how much it varies (standard deviation of a normal form, half the
    width of an even one), cut off at least and most."""

    usual: float
    varies: float = 0.0
    least: float = -np.inf
    most: float = np.inf
    form: Form = "normal"


Pilot = Mapping[str, PilotNumber]
STUDENT: Pilot = MappingProxyType(
    {
        "delay_s": PilotNumber(0.9, 0.30, 0.2, 3.0),
        "call_s": PilotNumber(0.45, 0.15, 0.1, 1.5),
        "gap_s": PilotNumber(0.4, 0.15, 0.0, 2.0),
        "turn_error": PilotNumber(0.0, 0.10, -0.2, 0.4),
        "rudder_share": PilotNumber(0.93, 0.07, 0.6, 1.0),
        "stick_error": PilotNumber(0.0, 0.12, -0.5, 0.3),
        "hand_s": PilotNumber(0.25, 0.06, 0.1, 0.6),
        "centre_s": PilotNumber(0.35, 0.12, 0.1, 1.5),
        "entry_stick": PilotNumber(1.0, 0.03, 0.85, 1.0),
        "entry_rudder": PilotNumber(0.97, 0.08, 0.6, 1.0),
        "aileron_in": PilotNumber(0.0),
        "aileron_recovery": PilotNumber(0.0),
        "power_left": PilotNumber(0.0),
        "close_s": PilotNumber(0.0),
        "rudder_held_s": PilotNumber(0.0),
        "stick_held_s": PilotNumber(0.0),
        "gives_up_s": PilotNumber(0.0),
        "pull_g": PilotNumber(0.0, 0.20, -0.8, 0.8),
        "onset_g_s": PilotNumber(1.5, 0.35, 0.6, 4.0),
        "throttle_s": PilotNumber(0.8, 0.20, 0.3, 2.0),
        "roll_share": PilotNumber(0.75, 0.12, 0.4, 1.0),
        "roll_acc_deg_s2": PilotNumber(240.0),
        "roll_g": PilotNumber(1.0, 0.15, 0.5, 1.6),
        "top_rudder": PilotNumber(0.3),
        "on_its_back": PilotNumber(1.0),
        "scoop_g": PilotNumber(0.0),
        "pull_from_bank_deg": PilotNumber(12.0, 4.0, 0.0, 25.0),
        "ease_error_g": PilotNumber(0.0, 0.10, -0.3, 0.3),
        "height_keeping_ft": PilotNumber(40.0, 30.0, 0.0, 150.0),
        "speed_error_kt": PilotNumber(0.0, 3.0, -9.0, 9.0),
        "angle_error_deg": PilotNumber(0.0, 4.0, -12.0, 12.0),
        "lag_s": PilotNumber(0.3, 0.05, 0.15, 0.45),
    }
)
INSTRUCTOR: Pilot = MappingProxyType(
    {
        **STUDENT,
        "delay_s": PilotNumber(0.7, 0.20, 0.2, 2.0),
        "call_s": PilotNumber(0.7, 0.20, 0.2, 2.0),
        "gap_s": PilotNumber(0.3, 0.10, 0.0, 1.0),
        "turn_error": PilotNumber(0.0),
        "rudder_share": PilotNumber(0.98, 0.03, 0.8, 1.0),
        "stick_error": PilotNumber(0.0, 0.08, -0.3, 0.2),
        "centre_s": PilotNumber(0.3, 0.10, 0.1, 1.0),
        "pull_g": PilotNumber(0.0, 0.15, -0.5, 0.5),
        "onset_g_s": PilotNumber(2.0, 0.30, 1.0, 4.0),
        "roll_share": PilotNumber(0.9, 0.06, 0.6, 1.0),
        "speed_error_kt": PilotNumber(0.0, 2.0, -6.0, 6.0),
        "angle_error_deg": PilotNumber(0.0, 2.0, -6.0, 6.0),
    }
)
# How the figures of a flight manual are taken to have been flown: promptly, with 2.5 g (see docs/model.md).
# The aircraft still answers late.
REFERENCE: Pilot = MappingProxyType(
    {
        **{key: PilotNumber(0.0) for key in RANGES},
        "gap_s": PilotNumber(0.3),
        "rudder_share": PilotNumber(1.0),
        "hand_s": PilotNumber(0.2),
        "entry_stick": PilotNumber(1.0),
        "entry_rudder": PilotNumber(1.0),
        "centre_s": PilotNumber(0.2),
        "onset_g_s": PilotNumber(2.0),
        "throttle_s": PilotNumber(0.5),
        "roll_share": PilotNumber(1.0),
        "roll_acc_deg_s2": PilotNumber(240.0),
        "roll_g": PilotNumber(1.0),
        "top_rudder": PilotNumber(0.3),
        "on_its_back": PilotNumber(1.0),
        "pull_from_bank_deg": PilotNumber(12.0),
        "lag_s": PilotNumber(0.3),
    }
)
PILOTS: Mapping[Who, Pilot] = MappingProxyType(
    {"student": STUDENT, "instructor": INSTRUCTOR, "reference": REFERENCE}
)
# Numbers that do not vary between pilots: g flown in parts of figures, shares of full aileron, how much more
# drag a slip or a stall makes, when the rudder of a stall turn goes in. Common practice, no published source.
FIXED: Mapping[str, float] = MappingProxyType(
    {
        "lift_share": 0.92,
        "unload_g": 0.4,
        "light_g": 0.6,
        "unload_s": 0.4,
        "stalled_g": 0.7,
        "unstall_g": 0.4,
        "flying_ratio": 1.15,
        "pull_ratio": 1.4,
        "push_g": -0.6,
        "settle_g": 1.5,
        "settle_down_g": 0.6,
        "ease_g": 1.5,
        "top_share": 0.75,
        "float_g": 0.5,
        "barrel_g": 1.3,
        "flick_g": 1.6,
        "full_roll": 0.95,
        "slow_deg_s": 45.0,
        "barrel_deg_s": 60.0,
        "point_share": 0.9,
        "flick_share": 3.0,
        "flick_drag": 4.0,
        "slip_drag": 2.2,
        "stall_drag": 2.0,
        "leaf_drag": 2.1,
        "down_power": 1.0,
        "kick_vs": 0.4,
    }
)


def cannot_be(name: str, values: Iterable[float]) -> Iterator[Trouble]:
    """Why a number of a pilot is refused: there is none of this name, or it is outside its range."""
    reach = RANGES.get(name)
    if reach is None:
        yield name, "no such number", f"There are {', '.join(RANGES)}."
        return
    for value in values:
        if not reach.least <= value <= reach.most:
            yield (
                name,
                f"{value:g} {reach.unit} is outside {reach.least:g} to {reach.most:g}: {reach.why}".replace(
                    "  ", " "
                ),
                f"Give {reach.label.lower()} inside it.",
            )


def usual_of(pilot: Pilot) -> dict[str, Floats]:
    """The middle pilot, arrays of shape (1,)."""
    return {key: np.array([number.usual]) for key, number in pilot.items()}


_USUAL = {who: usual_of(pilot) for who, pilot in PILOTS.items()}


def usual_numbers(who: Who) -> dict[str, Floats]:
    return dict(_USUAL[who])


def pilot_of(who: Who, given: Mapping[str, PilotNumber | float]) -> Pilot:
    """This pilot with what was given: a number alone moves the usual value, and varies as before around
    it."""
    found = dict(PILOTS[who])
    for key, number in given.items():
        if isinstance(number, PilotNumber):
            found[key] = number
        else:
            moved = number - found[key].usual
            found[key] = replace(
                found[key], usual=number, least=found[key].least + moved, most=found[key].most + moved
            )
    return found


def _evenly(numbers: int, pilots: int) -> Floats:
    """Points spread evenly over a cube, (pilots, numbers): a scrambled Sobol sequence (scipy) in place of
    random numbers, the same every time, so that a plan does not flicker."""
    # Takes seconds, and is wanted only where many are drawn.
    from scipy.stats.qmc import Sobol

    points: Floats = Sobol(numbers, rng=np.random.default_rng(2)).random_base2(math.ceil(math.log2(pilots)))
    return points[:pilots]


@lru_cache(maxsize=64)
def _normally(numbers: int, pilots: int) -> Floats:
    """The same as multiples of a standard deviation."""
    from scipy.special import ndtri

    found: Floats = ndtri(np.clip(_evenly(numbers, pilots), 1e-6, 1.0 - 1e-6))
    return found


def drawn_of(pilot: Pilot, pilots: int, names: tuple[str, ...] | None = None) -> dict[str, Floats]:
    """Pilots drawn evenly over the distributions of the numbers named (those that vary, where left out),
    arrays of shape (pilots,); the others as usual. The same every time."""
    named = tuple(key for key, number in pilot.items() if number.varies > 0.0) if names is None else names
    drawn = {key: np.full(pilots, number.usual) for key, number in pilot.items()}
    for k, key in enumerate(named):
        number, reach = pilot[key], RANGES[key]
        off = (
            2.0 * _evenly(len(named), pilots)[:, k] - 1.0
            if number.form == "even"
            else _normally(len(named), pilots)[:, k]
        )
        drawn[key] = np.clip(
            number.usual + number.varies * off, max(number.least, reach.least), min(number.most, reach.most)
        )
    return drawn


def drawn_numbers(who: Who, pilots: int) -> Mapping[str, Floats]:
    return MappingProxyType(drawn_of(PILOTS[who], pilots))
