"""Between the figures: the speed and height one leaves and the next needs, the climb that makes up the
difference, minutes, and what the order does to the people.

The order of pushes and pulls is AC 91-61's concern (from memory); the rest is common practice, no published
source."""

from collections.abc import Sequence
from dataclasses import dataclass

from keelturn.air import RHO0, eas_from_tas
from keelturn.aircraft.airframe import climb_rate
from keelturn.figures.catalogue import figure_of
from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.flying.costs import Flown
from keelturn.flying.numbers import tas_at
from keelturn.flying.pilots import FIXED, usual_numbers
from keelturn.motion import engine
from keelturn.motion.flight import Start, fly_fan
from keelturn.motion.legs import Leg, Numbers, compile_legs
from keelturn.units import FPM, FT, G0

# Checks and clearing turns before each figure; start, taxi, take-off, and joining to land.
LOOKOUT_MIN, TAXI_MIN = 0.75, 6.0
# Share of the speed above the next gate that a pilot turns into height.
ZOOMED = 0.7
# A speed this near the gate needs nothing (aircraft's unit), and the path of a dive for speed (deg).
NEAR, DIVE_PATH = 3.0, -20.0
DIVE = (
    Leg("Dive for speed", g=0.5, throttle=1.0, until="path_down_to_deg", amount=DIVE_PATH),
    Leg("Dive for speed", until="eas_up_to", amount="dive_eas"),
    Leg("Dive for speed", g=1.8, until="path_up_to_deg"),
)
# A push to this g and less just before a pull to that g and more is worth a word (AC 91-61: tolerance falls
# after negative g).
PUSH_G, PULL_G = 0.0, 3.0
# What a student with no history takes well in one flight, in the catalogue's units of `unsettles`.
COMFORT_LIMIT = {"first flights": 18.0, "practised": 30.0, "ready to fly it alone": 45.0}


@dataclass(frozen=True, slots=True)
class Link:
    """From the end of the figure before (or from joining the block) to the gate of this one: feet dived for
    speed, feet won from speed, feet climbed, minutes with the lookout."""

    dive_ft: float
    zoom_ft: float
    climb_ft: float
    minutes: float


def dive_for_speed(conditions: Conditions, from_ias: float, to_ias: float, height_ft: float) -> float:
    """Feet that a dive at full power costs from one indicated speed to another, levelling out included."""
    if to_ias - from_ias <= NEAR:
        return 0.0
    height = height_ft * FT
    density = conditions.air.density(height)
    numbers: Numbers = {
        **FIXED,
        **usual_numbers("reference"),
        "throttle_start": 1.0,
        "dive_eas": eas_from_tas(tas_at(conditions, to_ias, height), density),
    }
    legs, _ = compile_legs(DIVE, numbers, conditions.frame.stall, 1)
    summary, _ = fly_fan(
        Start(height, tas_at(conditions, from_ias, height), throttle=1.0), legs, conditions.body
    )
    return max(0.0, -float(summary[0, :, engine.S_HEIGHT].sum()) / FT)


def zoom_for_height(conditions: Conditions, from_ias: float, to_ias: float, height_ft: float) -> float:
    """Feet won by slowing to the next gate: a share of the kinetic energy."""
    if from_ias - to_ias <= NEAR:
        return 0.0
    fast, slow = (tas_at(conditions, ias, height_ft * FT) for ias in (from_ias, to_ias))
    return ZOOMED * (fast**2 - slow**2) / (2.0 * G0) / FT


def climb_fpm(conditions: Conditions, height_ft: float) -> float:
    """Best rate of climb (fpm) at this height today; not below 50, so that minutes stay finite."""
    card = conditions.card
    sigma = conditions.air.density(height_ft * FT) / RHO0
    return max(50.0, climb_rate(conditions.frame, card.speed_si(card.speeds.climb_ias.value), sigma) / FPM)


def link(
    conditions: Conditions, height_ft: float, ias: float | None, start_ft: float, entry_ias: float
) -> Link:
    """To a gate at start_ft and entry_ias from where the last figure left the aircraft; ias None when
    joining from the climb."""
    speed = conditions.card.speeds.climb_ias.value if ias is None else ias
    zoom = 0.0 if ias is None else zoom_for_height(conditions, speed, entry_ias, height_ft)
    after_climb = speed if start_ft <= height_ft + zoom else conditions.card.speeds.climb_ias.value
    dive = dive_for_speed(conditions, after_climb, entry_ias, start_ft)
    climb = max(0.0, start_ft + dive - height_ft - zoom)
    return Link(dive, zoom, climb, climb / climb_fpm(conditions, (start_ft + height_ft) / 2.0) + LOOKOUT_MIN)


@dataclass(frozen=True, slots=True)
class Exposure:
    """What the order does: figures (ids) whose push comes straight before a hard pull, the comfort load,
    where it passes the limit (id or None)."""

    pushes_before_pulls: tuple[tuple[str, str], ...]
    comfort_load: float
    comfort_limit: float
    passes_limit_at: str | None


def comfort_of(planned: PlannedFigure) -> float:
    """What a figure adds to the comfort load: who flies it is less upset by it."""
    return figure_of(planned.key).unsettles * (0.5 if planned.flown_by.by_student else 1.0)


def is_push(flown: Flown) -> bool:
    """Whether it is flown at clearly less than no g."""
    return flown.least_g < PUSH_G - 0.05


def is_hard_pull(flown: Flown) -> bool:
    return flown.most_g > PULL_G


def exposure(
    figures: Sequence[tuple[PlannedFigure, Flown]], conditions: Conditions, limit: float | None = None
) -> Exposure:
    """limit: this student's own, from history; None for the stage's."""
    allowed = COMFORT_LIMIT[conditions.stage] if limit is None else limit
    pushes = tuple(
        (a.id, b.id)
        for (a, before), (b, after) in zip(figures, figures[1:], strict=False)
        if is_push(before) and is_hard_pull(after)
    )
    load, passes = 0.0, None
    for planned, _ in figures:
        load += comfort_of(planned)
        if load > allowed and passes is None:
            passes = planned.id
    return Exposure(pushes, load, allowed, passes)
