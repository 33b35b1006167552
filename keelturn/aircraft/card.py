"""The aircraft card: what an instructor copies from the flight manual, each number with its source.

Speeds are indicated, in knots or miles an hour as the aircraft's own instrument shows them (`speed_unit`); names end in
`_ias`. Everything else carries its unit in its name.
"""

from typing import Annotated, Literal

import numpy as np
from pydantic import BaseModel, ConfigDict, Field, model_validator

from keelturn.air import Number
from keelturn.units import SPEED, SpeedUnit
from keelturn.working import Answer, Provenance, Rounding, Source, given

CardSource = Literal["flight manual", "placard", "measured here", "school", "common practice"]
ThrustLaw = Literal["fixed pitch", "constant speed", "jet"]
SpinVariant = Literal["accelerated", "flat", "inverted", "inverted flat"]


class Document(BaseModel):
    """A part of an open document: unknown fields are refused, with their place."""

    model_config = ConfigDict(extra="forbid", frozen=True, allow_inf_nan=False)


class Stated(Document):
    """One number of the card and where it came from."""

    value: float
    source: CardSource = "flight manual"
    ref: str = Field("", max_length=120)

    def where(self) -> Source:
        kind: Provenance = self.source
        return Source(kind, self.ref or "aircraft card")

    def answer(self, label: str, unit: str, rounding: Rounding = "near") -> Answer:
        return given(label, self.value, unit, self.where(), rounding)


class Above(Stated):
    value: Annotated[float, Field(gt=0)]


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
    inverted_s: Above | None = Field(None, description="Longest time inverted or at negative g; null when the manual has none")


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
    """What the manual or the school's measurements say of another kind of spin; anything missing takes the default."""

    further_turn_ft: Above | None = None
    turn_s: Above | None = None
    recovery_turns: Above | None = None
    path_down_deg: Above | None = None


class Spin(Document):
    """The upright spin as the flight manual or the school's own measurements have it, at `reference_lb`, `at_ft`."""

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
    spool_s: Above | None = Field(None, description="Seconds from idle to full thrust, where the engine is slower than the hand")
    position_error: tuple[PositionError, ...] = Field((), description="IAS against CAS, rising; IAS is taken as CAS where empty")

    @model_validator(mode="after")
    def speeds_are_in_order(self) -> "Card":
        order = (
            ("stall_ias", self.speeds.stall_ias.value),
            ("manoeuvring_ias", self.speeds.manoeuvring_ias.value),
            ("never_exceed_ias", self.speeds.never_exceed_ias.value),
        )
        for (low_name, low), (high_name, high) in zip(order, order[1:], strict=False):
            if low >= high:
                raise ValueError(f"{low_name} ({low:g}) must be below {high_name} ({high:g}): correct one of them")
        if not self.speeds.stall_ias.value < self.speeds.glide_ias.value < self.speeds.never_exceed_ias.value:
            raise ValueError("glide_ias must lie between the stall speed and Vne: correct it")
        if self.limits.most_g.value <= 1 or self.limits.least_g.value >= 0:
            raise ValueError("limit g must be above 1 and its least below 0: correct the limits")
        return self

    @model_validator(mode="after")
    def spin_figures_are_complete(self) -> "Card":
        approved = {key for key in self.approved if "spin" in key}
        if approved and (self.spin is None or not self.spin.approved):
            raise ValueError(f"{sorted(approved)[0]} is approved but the spin section is missing or not approved")
        return self

    @model_validator(mode="after")
    def position_error_rises(self) -> "Card":
        for low, high in zip(self.position_error, self.position_error[1:], strict=False):
            if low.ias >= high.ias or low.cas >= high.cas:
                raise ValueError(f"position_error: {high.ias:g} IAS, {high.cas:g} CAS does not rise above the line before it: put in order")
        return self

    def speed_si(self, ias: float) -> float:
        """CAS in m/s from an indicated speed in the card's unit; beyond the table its last difference is kept."""
        return _along([(e.ias, e.cas) for e in self.position_error], ias) * SPEED[self.speed_unit]

    def speed_read(self, speed_si: Number) -> Number:
        """Indicated speed in the card's unit from CAS in m/s; number or array."""
        return _along([(e.cas, e.ias) for e in self.position_error], speed_si / SPEED[self.speed_unit])

    def speed_answer(self, stated: Stated, label: str) -> Answer:
        return stated.answer(label, self.speed_unit)


def _along(table: list[tuple[float, float]], x: Number) -> Number:
    """Between the lines of a rising table; beyond its ends the end's difference is kept. x itself where there is no table."""
    if not table:
        return x
    at, differences = [a for a, _ in table], [b - a for a, b in table]
    return x + np.interp(x, at, differences)
