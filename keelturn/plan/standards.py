"""What the school has decided and what the rules give: one table of numbers with their sources.

Regulation figures are from memory (work of the founders): the chief must confirm them for the place and the day.
"""

from typing import Annotated, Literal

from pydantic import Field

from keelturn.aircraft.card import Document
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


class Standards(Document):
    """Heights above the ground unless said."""

    regulation_floor_ft: Standard = Standard(
        value=1500, source="regulation", ref="14 CFR 91.303(e) and AC 61-67C, from memory; confirm for the place")
    school_floor_ft: Standard = Standard(value=3000)
    stage_extra_ft: dict[Stage, Standard] = {
        "first flights": Standard(value=500), "practised": Standard(value=0), "ready to fly it alone": Standard(value=0)}
    allowance_ft: Standard = Standard(value=100, ref="school standards: altimeter error and reading it late")
    decide_s: Standard = Standard(value=5, ref="school standards: seconds to decide to leave")
    egress_s: Standard = Standard(value=10, ref="school standards: seconds to get out, from ground practice")
    canopy_ft: Standard = Standard(value=500, ref="school standards: height for the canopy to open")
    feel_least: Standard = Standard(value=5, ref="school standards: stop when the student feels below this, 0 to 10")
    reserve_min: Standard = Standard(value=30, ref="school standards: minutes of fuel left in the aerobatic tank")
    visibility_sm: Standard = Standard(value=3, source="regulation", ref="14 CFR 91.303(f), from memory")
    cloud_above_ft: Standard = Standard(value=1000, ref="school standards: cloud base above the highest start")
    parachute_days: Standard = Standard(value=180, source="regulation", ref="14 CFR 91.307(a), from memory")
    speed_margin: Standard = Standard(value=20, ref="school standards: kept below Vne, in the aircraft's speed unit")


class Place(Document):
    """Where the figures are flown. Heights on QNH."""

    name: str = Field(min_length=1, max_length=80)
    elevation_ft: float = Field(ge=-1500, le=15000)
    block_top_ft: float = Field(gt=0, le=30000)
    place_floor_ft: Standard | None = Field(None, description="A floor this place asks for, above its ground")
    notes: str = Field("", max_length=500)
