"""The aircraft card: what an instructor copies from the flight manual, each number with its source. What
handbooks often leave out may stay blank, and is then estimated (aircraft/blanks.py).

Speeds are indicated, in knots or miles an hour as the aircraft's own instrument shows them (`speed_unit`);
names end in `_ias`. Everything else carries its unit in its name."""

from collections.abc import Iterator
from typing import Literal

import numpy as np
from pydantic import model_validator

from keelturn.air import Number
from keelturn.document import SPEED as OWN_SPEED
from keelturn.document import Above, Document, Stated, Trouble, Wrong, told
from keelturn.units import SPEED, SpeedUnit
from keelturn.working import Answer

ThrustLaw = Literal["fixed pitch", "constant speed", "jet"]
SpinKind = Literal[
    "upright", "accelerated", "flat", "inverted", "inverted flat", "in-spin aileron", "out-spin aileron"
]
SpinVariant = Literal["accelerated", "flat", "inverted", "inverted flat"]
# Ways out of a spin by their names in recoveries/schools.py, that a manual may say do not work for its type.
SpinMethod = Literal["Power, aileron, rudder, elevator", "Centralise", "Hands off"]
SpinMass = Literal["along the fuselage", "along the wings"]


# How the numbers are called when they are said to contradict each other, and which must be below which.
SAID = {
    "stall_ias": "the stall",
    "stall_flap_ias": "the stall with flap",
    "glide_ias": "best glide",
    "climb_ias": "best climb",
    "manoeuvring_ias": "Va",
    "normal_most_ias": "Vno",
    "never_exceed_ias": "Vne",
    "flap_most_ias": "Vfe",
    "rolling_g": "while rolling",
    "flap_g": "with flap",
}
LOWER_AND_HIGHER = (
    ("stall_flap_ias", "stall_ias"),
    ("stall_ias", "manoeuvring_ias"),
    ("manoeuvring_ias", "never_exceed_ias"),
    ("stall_ias", "glide_ias"),
    ("glide_ias", "never_exceed_ias"),
    ("stall_ias", "climb_ias"),
    ("climb_ias", "never_exceed_ias"),
    ("stall_flap_ias", "flap_most_ias"),
    ("flap_most_ias", "never_exceed_ias"),
    ("normal_most_ias", "never_exceed_ias"),
)


class Station(Document):
    name: str = told("Name", min_length=1, max_length=40)
    arm_in: float = told("Arm", "in")
    most_lb: float = told("Most", "lb", gt=0)


class Tank(Document):
    name: str = told("Tank", min_length=1, max_length=40)
    arm_in: float = told("Arm", "in")
    usable_usgal: float = told("Usable", "US gal", gt=0)
    feeds_aerobatics: bool = told("for figures")


class Balance(Document):
    """Mass and balance. Arms in inches aft of the card's own datum."""

    empty_lb: Above = told("Empty", "lb")
    empty_arm_in: Stated = told("Empty arm", "in")
    most_lb: Above = told("Most", "lb")
    aerobatic_most_lb: Above = told("Most, aerobatics", "lb")
    aerobatic_forward_in: Stated = told("Forward limit", "in")
    aerobatic_aft_in: Stated = told("Aft limit", "in")
    aerobatic_burn_usgal_h: Above = told("Burn, aerobatics", "US gal/h")
    seats: tuple[Station, ...] = told("Seats", min_length=2, max_length=2)
    baggage: Station = told("Baggage")
    tanks: tuple[Tank, ...] = told("Tanks", min_length=1)


class Speeds(Document):
    """At `reference_lb`, sea level standard, clean unless said."""

    reference_lb: Above = told("At this weight", "lb")
    stall_ias: Above = told("Stall, clean", OWN_SPEED)
    stall_flap_ias: Above = told("Stall, flap", OWN_SPEED)
    stall_inverted_ias: Above | None = told("Stall, inverted", OWN_SPEED, None)
    glide_ias: Above = told("Best glide", OWN_SPEED)
    glide_ratio: Above = told("Glide ratio")
    flap_glide_ratio: Above | None = told("Glide ratio, flap", "", None)
    climb_ias: Above = told("Best climb", OWN_SPEED)
    climb_fpm: Above = told("Climb", "fpm")
    level_ias: Above = told("Fastest level", OWN_SPEED)
    manoeuvring_ias: Above = told("Va", OWN_SPEED)
    normal_most_ias: Above = told("Vno", OWN_SPEED)
    never_exceed_ias: Above = told("Vne", OWN_SPEED)
    flap_most_ias: Above = told("Vfe", OWN_SPEED)


class Limits(Document):
    most_g: Above = told("Most g", "g")
    least_g: Stated = told("Least g", "g")
    rolling_g: Above | None = told("While rolling", "g", None, estimated=True)
    flap_g: Above = told("With flap", "g")
    inverted_s: Above | None = told(
        "Longest inverted",
        "s",
        None,
        description="Longest time inverted or at negative g; null when the manual has none",
    )


class Roll(Document):
    """Full-aileron roll rate at a stated speed."""

    left_deg_s: Above | None = told("Roll, left", "°/s", None, estimated=True)
    right_deg_s: Above | None = told("Roll, right", "°/s", None, estimated=True)
    at_ias: Above | None = told("Timed at", OWN_SPEED, None, estimated=True)


class PositionError(Document):
    """What the airspeed indicator shows against calibrated airspeed."""

    ias: float = told("IAS", OWN_SPEED, gt=0)
    cas: float = told("CAS", OWN_SPEED, gt=0)


class SpinVariantFigures(Document):
    """What the manual or the school's measurements say of another kind of spin; anything missing takes the
    default."""

    further_turn_ft: Above | None = told("Each further turn", "ft", None)
    turn_s: Above | None = told("Seconds a turn", "s", None)
    recovery_turns: Above | None = told("Turns to recover", "", None)
    path_down_deg: Above | None = told("Path when it stops", "° down", None)


class Spin(Document):
    """The upright spin as the flight manual or the school's own measurements have it, at `reference_lb`,
    `at_ft`."""

    approved: bool = told("Spins approved")
    ref: str = told("Where the manual says so", "", "", max_length=120)
    one_turn_ft: Above = told("One turn with recovery", "ft")
    further_turn_ft: Above | None = told("Each further turn", "ft", None, estimated=True)
    turn_s: Above | None = told("Seconds a turn", "s", None, estimated=True)
    recovery_turns: Above = told("Turns to recover")
    path_down_deg: Above | None = told("Path when it stops", "° down", None)
    left_factor: Above | None = told("Left against right", "×", None, estimated=True)
    most_lb: Above = told("Most weight for spins", "lb")
    at_ft: Above | None = told("Figures are for", "ft", None, estimated=True)
    mass: SpinMass = told("Mass lies", "", "along the fuselage")
    does_not_stop: tuple[SpinMethod, ...] = told("The manual says these do not stop it", "", ())
    recovery: tuple[str, ...] = told("Recovery as the manual has it, one step a line", "", ())
    recovery_for: tuple[SpinKind, ...] = told(
        "Spins that the manual's recovery is for",
        "",
        ("upright",),
        description="Manuals mean the upright spin unless they say otherwise",
    )
    recovery_like: SpinMethod = told(
        "The manual's recovery moves rudder and stick like",
        "",
        "Power, aileron, rudder, elevator",
        description="How its height is computed: the engine flies this method's inputs",
    )
    variants: dict[SpinVariant, SpinVariantFigures] = told("Spin, {key}", "", {})


class Card(Document):
    name: str = told("Type", min_length=1, max_length=60)
    category: Literal["normal", "utility", "aerobatic"] = told("Category")
    speed_unit: SpeedUnit = told("Speeds in")
    thrust: ThrustLaw = told("Propeller or jet", "", "fixed pitch")
    spool_s: Above | None = told(
        "Idle to full thrust",
        "s",
        None,
        description="Seconds from idle to full thrust, where the engine is slower than the hand",
    )
    speeds: Speeds = told("Speeds, IAS")
    limits: Limits = told("Limits")
    roll: Roll = told("Roll, full aileron")
    balance: Balance = told("Weight and balance")
    position_error: tuple[PositionError, ...] = told(
        "IAS against CAS", "", (), description="IAS against CAS, rising; IAS is taken as CAS where empty"
    )
    spin: Spin | None = told("Spin")
    leaving: tuple[str, ...] = told(
        "How to leave the aircraft, one step a line",
        "",
        (),
        description="Canopy, doors or hatch; in which order; what the seat and the harness need",
    )
    approved: dict[str, Above | None] = told(
        "Approved figures, with the manual's entry speed where it gives one"
    )

    @model_validator(mode="after")
    def numbers_agree(self) -> "Card":
        found = tuple(_disagreements(self))
        if found:
            raise Wrong(*found)
        return self

    @model_validator(mode="after")
    def position_error_rises(self) -> "Card":
        for low, high in zip(self.position_error, self.position_error[1:], strict=False):
            if low.ias >= high.ias or low.cas >= high.cas:
                raise ValueError(
                    f"position_error: {high.ias:g} IAS, {high.cas:g} CAS does not rise above the line before"
                    " it: put in order"
                )
        return self

    def speed_si(self, ias: float) -> float:
        """CAS in m/s from an indicated speed in the card's unit; beyond the table its last difference is
        kept."""
        return _along([(e.ias, e.cas) for e in self.position_error], ias) * SPEED[self.speed_unit]

    def speed_read(self, speed_si: Number) -> Number:
        """Indicated speed in the card's unit from CAS in m/s; number or array."""
        return _along([(e.cas, e.ias) for e in self.position_error], speed_si / SPEED[self.speed_unit])

    def speed_answer(self, stated: Stated, label: str) -> Answer:
        return stated.answer(label, self.speed_unit)


def _speeds_disagree(speeds: Speeds) -> Iterator[Trouble]:
    named: dict[str, float] = {name: stated.value for name, stated in speeds if isinstance(stated, Stated)}
    for low, high in LOWER_AND_HIGHER:
        if named[low] >= named[high]:
            words = f"{SAID[low]} ({named[low]:g}) must be below {SAID[high]} ({named[high]:g})"
            yield f"speeds.{low}", words, "Correct one of them."


def _limits_disagree(limits: Limits) -> Iterator[Trouble]:
    most, least = limits.most_g.value, limits.least_g.value
    if most <= 1:
        hint = "Level flight alone needs 1 g: copy the limit again."
        yield "limits.most_g", f"the limit of {most:g} g is not above 1", hint
    if least >= 0:
        yield "limits.least_g", f"the least g ({least:g}) is not below 0", "Write it with its minus sign."
    for name, stated in (("rolling_g", limits.rolling_g), ("flap_g", limits.flap_g)):
        if stated is not None and not 1 < stated.value <= most:
            where = f"the limit {SAID[name]} ({stated.value:g})"
            words = f"{where} must lie above 1 and not above the limit ({most:g})"
            yield f"limits.{name}", words, "Correct one of them."


def _balance_disagrees(balance: Balance) -> Iterator[Trouble]:
    forward, aft = balance.aerobatic_forward_in.value, balance.aerobatic_aft_in.value
    if forward >= aft:
        words = f"the forward limit ({forward:g} in) is not ahead of the aft limit ({aft:g} in)"
        yield "balance.aerobatic_forward_in", words, "Exchange or correct them."
    seats, tanks = ([station.arm_in for station in stations] for stations in (balance.seats, balance.tanks))
    arms = [*seats, *tanks, balance.baggage.arm_in]
    reach, empty_arm = max(arms) - min(arms) + 24.0, balance.empty_arm_in.value
    if not min(arms) - reach <= empty_arm <= max(arms) + reach:
        words = f"the empty arm ({empty_arm:g} in) is far from every seat and tank"
        yield "balance.empty_arm_in", words, "Check that all arms are from the same datum."
    empty, aerobatic, most = (
        stated.value for stated in (balance.empty_lb, balance.aerobatic_most_lb, balance.most_lb)
    )
    if not empty < aerobatic <= most:
        words = f"empty {empty:g}, aerobatic {aerobatic:g} and most {most:g} lb must rise in this order"
        yield "balance.aerobatic_most_lb", words, "Correct one of them."


def _spin_disagrees(spin: Spin, balance: Balance) -> Iterator[Trouble]:
    heaviest, most, path = spin.most_lb.value, balance.most_lb.value, spin.path_down_deg
    if heaviest > most:
        words = f"{heaviest:g} lb for spins is above the most weight {most:g} lb"
        yield "spin.most_lb", words, "Correct one of them."
    if path is not None and not 20 <= path.value <= 90:
        words = f"a path {path.value:g} degrees down is outside 20 to 90"
        yield "spin.path_down_deg", words, "Give degrees below the horizon."


def _entries_disagree(card: Card) -> Iterator[Trouble]:
    slowest, fastest = card.speeds.stall_flap_ias.value, card.speeds.never_exceed_ias.value
    for key, entry in card.approved.items():
        if entry is not None and not slowest < entry.value <= fastest:
            words = f"an entry at {entry.value:g} is not between the stall and Vne"
            yield f"approved.{key}", words, "Copy the entry speed again."


def _disagreements(card: Card) -> Iterator[Trouble]:
    """(where, what, what to do) for every pair of numbers that contradict each other."""
    yield from _speeds_disagree(card.speeds)
    yield from _limits_disagree(card.limits)
    yield from _balance_disagrees(card.balance)
    if card.spin is not None:
        yield from _spin_disagrees(card.spin, card.balance)
    yield from _entries_disagree(card)


def _along(table: list[tuple[float, float]], x: Number) -> Number:
    """Between the lines of a rising table; beyond its ends the end's difference is kept. x itself where there
    is no table."""
    if not table:
        return x
    at, differences = [a for a, _ in table], [b - a for a, b in table]
    return x + np.interp(x, at, differences)
