"""The aircraft card: what an instructor copies from the flight manual, each number with its source.

Speeds are indicated, in knots or miles an hour as the aircraft's own instrument shows them (`speed_unit`);
names end in `_ias`. Everything else carries its unit in its name."""

from collections.abc import Iterator
from typing import Literal

import numpy as np
from pydantic import Field, model_validator

from keelturn.air import Number
from keelturn.document import Above, Document, Stated, Wrong
from keelturn.units import SPEED, SpeedUnit
from keelturn.working import Answer

ThrustLaw = Literal["fixed pitch", "constant speed", "jet"]
SpinVariant = Literal["accelerated", "flat", "inverted", "inverted flat"]


class Station(Document):
    name: str = Field(min_length=1, max_length=40)
    arm_in: float
    most_lb: float = Field(gt=0)


class Tank(Document):
    name: str = Field(min_length=1, max_length=40)
    arm_in: float
    usable_usgal: float = Field(gt=0)
    feeds_aerobatics: bool


class Balance(Document):
    """Mass and balance. Arms in inches aft of the card's own datum."""

    empty_lb: Above
    empty_arm_in: Stated
    most_lb: Above
    aerobatic_most_lb: Above
    aerobatic_forward_in: Stated
    aerobatic_aft_in: Stated
    seats: tuple[Station, ...] = Field(min_length=2, max_length=2)
    baggage: Station
    tanks: tuple[Tank, ...] = Field(min_length=1)
    aerobatic_burn_usgal_h: Above


class Speeds(Document):
    """At `reference_lb`, sea level standard, clean unless said."""

    reference_lb: Above
    stall_ias: Above
    stall_flap_ias: Above
    glide_ratio: Above
    glide_ias: Above
    climb_fpm: Above
    climb_ias: Above
    level_ias: Above
    never_exceed_ias: Above
    normal_most_ias: Above
    manoeuvring_ias: Above
    flap_most_ias: Above
    stall_inverted_ias: Above | None = None
    flap_glide_ratio: Above | None = None


class Limits(Document):
    most_g: Above
    least_g: Stated
    rolling_g: Above
    flap_g: Above
    inverted_s: Above | None = Field(
        None, description="Longest time inverted or at negative g; null when the manual has none"
    )


class Roll(Document):
    """Full-aileron roll rate at a stated speed."""

    left_deg_s: Above
    right_deg_s: Above
    at_ias: Above


class PositionError(Document):
    """What the airspeed indicator shows against calibrated airspeed."""

    ias: float = Field(gt=0)
    cas: float = Field(gt=0)


class SpinVariantFigures(Document):
    """What the manual or the school's measurements say of another kind of spin; anything missing takes the
    default."""

    further_turn_ft: Above | None = None
    turn_s: Above | None = None
    recovery_turns: Above | None = None
    path_down_deg: Above | None = None


class Spin(Document):
    """The upright spin as the flight manual or the school's own measurements have it, at `reference_lb`,
    `at_ft`."""

    approved: bool
    ref: str = Field("", max_length=120)
    most_lb: Above
    at_ft: Above
    one_turn_ft: Above
    further_turn_ft: Above
    turn_s: Above
    recovery_turns: Above
    path_down_deg: Above
    left_factor: Above
    recovery: tuple[str, ...] = ()
    variants: dict[SpinVariant, SpinVariantFigures] = {}


class Card(Document):
    name: str = Field(min_length=1, max_length=60)
    category: Literal["normal", "utility", "aerobatic"]
    speed_unit: SpeedUnit
    balance: Balance
    speeds: Speeds
    limits: Limits
    roll: Roll
    spin: Spin | None
    approved: dict[str, Above | None]
    thrust: ThrustLaw = "fixed pitch"
    spool_s: Above | None = Field(
        None, description="Seconds from idle to full thrust, where the engine is slower than the hand"
    )
    position_error: tuple[PositionError, ...] = Field(
        (), description="IAS against CAS, rising; IAS is taken as CAS where empty"
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


# How the numbers are called when they are said to contradict each other.
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


def _disagreements(card: Card) -> Iterator[tuple[str, str, str]]:
    """(where, what, what to do) for every pair of numbers that contradict each other."""
    speeds, limits, balance = card.speeds, card.limits, card.balance
    named: dict[str, float] = {name: stated.value for name, stated in speeds if isinstance(stated, Stated)}
    for low, high in (
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
    ):
        if named[low] >= named[high]:
            yield (
                f"speeds.{low}",
                f"{SAID[low]} ({named[low]:g}) must be below {SAID[high]} ({named[high]:g})",
                "Correct one of them.",
            )
    most = limits.most_g.value
    if most <= 1:
        yield (
            "limits.most_g",
            f"the limit of {most:g} g is not above 1",
            "Level flight alone needs 1 g: copy the limit again.",
        )
    if limits.least_g.value >= 0:
        yield (
            "limits.least_g",
            f"the least g ({limits.least_g.value:g}) is not below 0",
            "Write it with its minus sign.",
        )
    for name, lower in (("rolling_g", limits.rolling_g.value), ("flap_g", limits.flap_g.value)):
        if lower > most or lower <= 1:
            yield (
                f"limits.{name}",
                f"the limit {SAID[name]} ({lower:g}) must lie above 1 and not above the limit ({most:g})",
                "Correct one of them.",
            )
    forward, aft = balance.aerobatic_forward_in.value, balance.aerobatic_aft_in.value
    if forward >= aft:
        yield (
            "balance.aerobatic_forward_in",
            f"the forward limit ({forward:g} in) is not ahead of the aft limit ({aft:g} in)",
            "Exchange or correct them.",
        )
    stations = (
        [seat.arm_in for seat in balance.seats]
        + [tank.arm_in for tank in balance.tanks]
        + [balance.baggage.arm_in]
    )
    reach = max(stations) - min(stations) + 24.0
    if not min(stations) - reach <= balance.empty_arm_in.value <= max(stations) + reach:
        yield (
            "balance.empty_arm_in",
            f"the empty arm ({balance.empty_arm_in.value:g} in) is far from every seat and tank",
            "Check that all arms are from the same datum.",
        )
    if not balance.empty_lb.value < balance.aerobatic_most_lb.value <= balance.most_lb.value:
        yield (
            "balance.aerobatic_most_lb",
            (
                f"empty {balance.empty_lb.value:g}, aerobatic {balance.aerobatic_most_lb.value:g} and most "
                f"{balance.most_lb.value:g} lb must rise in this order"
            ),
            "Correct one of them.",
        )
    if card.spin is not None and card.spin.most_lb.value > balance.most_lb.value:
        yield (
            "spin.most_lb",
            f"{card.spin.most_lb.value:g} lb for spins is above the most weight {balance.most_lb.value:g} lb",
            "Correct one of them.",
        )
    if card.spin is not None and not 20 <= card.spin.path_down_deg.value <= 90:
        yield (
            "spin.path_down_deg",
            f"a path {card.spin.path_down_deg.value:g} degrees down is outside 20 to 90",
            "Give degrees below the horizon.",
        )
    for key, entry in card.approved.items():
        if entry is not None and not named["stall_flap_ias"] < entry.value <= named["never_exceed_ias"]:
            yield (
                f"approved.{key}",
                f"an entry at {entry.value:g} is not between the stall and Vne",
                "Copy the entry speed again.",
            )


def _along(table: list[tuple[float, float]], x: Number) -> Number:
    """Between the lines of a rising table; beyond its ends the end's difference is kept. x itself where there
    is no table."""
    if not table:
        return x
    at, differences = [a for a, _ in table], [b - a for a, b in table]
    return x + np.interp(x, at, differences)
