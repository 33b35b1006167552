"""What the school has decided and what the rules give: one table of numbers with their sources.

Regulation figures are from memory (work of the founders): the chief must confirm them for the place and the
day."""

from typing import Annotated, Literal

from pydantic import Field, model_validator

from keelturn.aircraft.card import Above, Document
from keelturn.figures.catalogue import figure_of
from keelturn.recoveries.schools import BY_KEY as SCHOOLS
from keelturn.working import Answer, Provenance, Rounding, Source, given

Stage = Literal["first flights", "practised", "ready to fly it alone"]
Positive = Annotated[float, Field(ge=0, le=30000)]


class Standard(Document):
    value: Positive
    source: Literal["regulation", "school", "common practice"] = "school"
    ref: str = Field("school standards", max_length=160)

    def answer(self, label: str, unit: str, rounding: Rounding = "near") -> Answer:
        kind: Provenance = self.source
        return given(label, self.value, unit, Source(kind, self.ref), rounding)


class FigureStandard(Document):
    """What the chief asks of one figure: entry speeds by the name of the aircraft's card, a floor above the
    ground of its own, the recovery school taught, and words to say. Anything left out is the catalogue's."""

    entry_ias: dict[str, Above] = Field(default_factory=dict)
    floor_ft: Standard | None = None
    school: str | None = Field(None, max_length=60)
    words: str = Field("", max_length=400)


class Standards(Document):
    """Heights above the ground unless said."""

    regulation_floor_ft: Standard = Standard(
        value=1500,
        source="regulation",
        ref="14 CFR 91.303(e) and AC 61-67C, from memory; confirm for the place",
    )
    school_floor_ft: Standard = Standard(value=3000)
    stage_extra_ft: dict[Stage, Standard] = {
        "first flights": Standard(value=500),
        "practised": Standard(value=0),
        "ready to fly it alone": Standard(value=0),
    }
    allowance_ft: Standard = Standard(value=100, ref="school standards: altimeter error and reading it late")
    decide_s: Standard = Standard(value=5, ref="school standards: seconds to decide to leave")
    egress_s: Standard = Standard(value=10, ref="school standards: seconds to get out, from ground practice")
    canopy_ft: Standard = Standard(value=500, ref="school standards: height for the canopy to open")
    feel_least: Standard = Standard(
        value=5, ref="school standards: stop when the student feels below this, 0 to 10"
    )
    reserve_min: Standard = Standard(
        value=30, ref="school standards: minutes of fuel left in the aerobatic tank"
    )
    visibility_sm: Standard = Standard(value=3, source="regulation", ref="14 CFR 91.303(f), from memory")
    cloud_above_ft: Standard = Standard(
        value=1000, ref="school standards: cloud base above the highest start"
    )
    parachute_days: Standard = Standard(value=180, source="regulation", ref="14 CFR 91.307(a), from memory")
    daylight_min: Standard = Standard(value=30, ref="school standards: minutes kept before sunset")
    report_min: Standard = Standard(
        value=90, ref="school standards: a weather report older than this is asked for again"
    )
    booking_min: Standard = Standard(
        value=90, ref="school standards: minutes from the brief to the debrief that a sortie is booked for"
    )
    speed_margin: Standard = Standard(
        value=20, ref="school standards: kept below Vne, in the aircraft's speed unit"
    )
    figures: dict[str, FigureStandard] = Field(default_factory=dict, description="By the figure's key")

    @model_validator(mode="after")
    def figures_and_schools_exist(self) -> "Standards":
        for key, standard in self.figures.items():
            figure = figure_of(key)
            if standard.school is None:
                continue
            school = SCHOOLS.get(standard.school)
            if school is None or school.situation != figure.situation or school.compared_only:
                raise ValueError(
                    f"figures.{key}.school: '{standard.school}' is not a recovery taught for a"
                    f" {figure.name.lower()}"
                )
        return self

    def figure(self, key: str) -> FigureStandard:
        return self.figures.get(key, FigureStandard())


class LandingField(Document):
    """Where a forced landing could go: from the middle of the place, true bearing; the direction and length
    to land in."""

    name: str = Field(min_length=1, max_length=60)
    bearing_deg: float = Field(ge=0, le=360)
    distance_nm: float = Field(ge=0, le=30)
    heading_deg: float = Field(ge=0, le=360)
    length_ft: float = Field(gt=0, le=20000)


class Place(Document):
    """Where the figures are flown. Heights on QNH."""

    name: str = Field(min_length=1, max_length=80)
    elevation_ft: float = Field(ge=-1500, le=15000)
    block_top_ft: float = Field(gt=0, le=30000)
    airspace_top_ft: float | None = Field(
        None, gt=0, le=30000, description="Where other airspace begins above; null for none"
    )
    place_floor_ft: Standard | None = Field(None, description="A floor this place asks for, above its ground")
    notes: str = Field("", max_length=500)
    latitude_deg: float | None = Field(None, ge=-90, le=90)
    longitude_deg: float | None = Field(None, ge=-180, le=180)
    station: str | None = Field(
        None, pattern="^[A-Z0-9]{4}$", description="Whose weather report is the place's own"
    )
    station_elevation_ft: float | None = Field(None, ge=-1500, le=15000)
    radius_nm: float = Field(3.0, gt=0, le=30, description="Of the block around its middle")
    line_name: str = Field("", max_length=60, description="The road, shore or railway to hold")
    line_deg: float | None = Field(None, ge=0, le=360, description="True; flown either way")
    fields: tuple[LandingField, ...] = Field((), max_length=12)

    @model_validator(mode="after")
    def air_above_the_ground(self) -> "Place":
        if self.top_ft <= self.elevation_ft + 500:
            raise ValueError(
                f"block_top_ft: the top ({self.top_ft:g} ft) is less than 500 ft above the ground"
                f" ({self.elevation_ft:g} ft): correct one of them"
            )
        return self

    @property
    def top_ft(self) -> float:
        """The lower of the block's top and the airspace above."""
        return (
            self.block_top_ft
            if self.airspace_top_ft is None
            else min(self.block_top_ft, self.airspace_top_ft)
        )
