"""The plan as a document: what the instructor decides. Unknown fields and absurd values are refused with
their place."""

from datetime import datetime
from typing import Literal

from pydantic import Field, model_validator

from keelturn.aircraft.card import Document
from keelturn.aircraft.loading import Load
from keelturn.figures.catalogue import figure_of

HIGHEST_FT = 30000.0


# The fields of a day that a report can give; what `sources` may name.
REPORTED = ("qnh_hpa", "temperature_c", "wind_from_deg", "visibility_sm", "cloud_base_ft", "winds")


class WindAt(Document):
    """Wind at a height on QNH, deg true."""

    height_ft: float = Field(ge=0, le=HIGHEST_FT)
    from_deg: float = Field(ge=0, le=360)
    kt: float = Field(ge=0, le=200)


class Day(Document):
    """Today's conditions at the place, as reported. sources: where a field came from, by its name; a field
    without one was typed in."""

    qnh_hpa: float = Field(1013.25, ge=900, le=1080)
    temperature_c: float = Field(15.0, ge=-50, le=55)
    wind_from_deg: float = Field(0.0, ge=0, le=360)
    wind_kt: float = Field(0.0, ge=0, le=120)
    visibility_sm: float = Field(10.0, ge=0, le=100)
    cloud_base_ft: float | None = Field(
        None, ge=0, le=HIGHEST_FT, description="On QNH; null for none below the block top"
    )
    winds: tuple[WindAt, ...] = Field(
        (), max_length=12, description="At heights; empty: the surface wind everywhere"
    )
    report: str = Field(
        "", max_length=400, description="The report these came from, as it was pasted or fetched"
    )
    observed: datetime | None = None
    sources: dict[str, str] = Field(default_factory=dict)

    @model_validator(mode="after")
    def sources_name_fields(self) -> "Day":
        for name, words in self.sources.items():
            if name not in REPORTED:
                raise ValueError(
                    f"sources.{name}: there is no such field of a day; there are {', '.join(REPORTED)}"
                )
            if len(words) > 80:
                raise ValueError(f"sources.{name}: longer than 80 letters")
        return self

    def source(self, name: str) -> str:
        return self.sources.get(name, "typed in")


class PlannedFigure(Document):
    id: str = Field(min_length=1, max_length=40)
    key: str
    side: Literal["left", "right"] = "left"
    start_ft: float = Field(ge=0, le=HIGHEST_FT, description="On QNH")
    entry_ias: float | None = Field(
        None, gt=0, le=500, description="In the aircraft's speed unit; null for the gate's"
    )
    parameters: dict[str, float] = Field(default_factory=dict)
    school: str | None = None
    flown_by: Literal["instructor shows", "student with talk", "student alone"] = "student with talk"

    @model_validator(mode="after")
    def parameters_belong_to_the_figure(self) -> "PlannedFigure":
        figure = figure_of(self.key)
        for name, value in self.parameters.items():
            known = figure.parameters.get(name)
            if known is None:
                raise ValueError(
                    f"parameters.{name}: a {figure.name} has no such setting; it has"
                    f" {', '.join(figure.parameters)}"
                )
            if not known.least <= value <= known.most:
                raise ValueError(
                    f"parameters.{name}: {value:g} is outside {known.least:g} to {known.most:g} {known.unit}"
                )
        return self

    @property
    def as_flown(self) -> tuple[object, ...]:
        """Everything that its flight depends on besides the height it begins at: what tells one flight from
        another in a memory."""
        return (self.key, self.side, self.entry_ias, self.school, tuple(sorted(self.parameters.items())))

    def parameter(self, name: str) -> float:
        """The setting, or the figure's usual one."""
        return self.parameters.get(name, figure_of(self.key).parameters[name].usual)


class Override(Document):
    """A stop that an instructor has overridden, with the reason. Stays on the record."""

    check: str = Field(min_length=1, max_length=80)
    reason: str = Field(min_length=8, max_length=500)
    by: str = Field(max_length=80)


class PlanDocument(Document):
    version: Literal[1] = 1
    lesson: str = Field("spins_both_ways", max_length=60)
    day: Day = Day()
    load: Load
    feeling: int | None = Field(
        None, ge=0, le=10, description="The student's own number before the flight; null when not asked"
    )
    own_floor_ft: float | None = Field(
        None, ge=0, le=HIGHEST_FT, description="The instructor's own floor, on QNH"
    )
    figures: tuple[PlannedFigure, ...] = Field(max_length=40)
    overrides: tuple[Override, ...] = ()

    @model_validator(mode="after")
    def figure_ids_differ(self) -> "PlanDocument":
        ids = [figure.id for figure in self.figures]
        if len(set(ids)) != len(ids):
            raise ValueError("figures: two figures have the same id; give each its own")
        return self
