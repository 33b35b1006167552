"""A figure as it is planned: to which side, from what height, with which settings."""

from collections.abc import Mapping
from enum import StrEnum

from pydantic import Field, model_validator

from keelturn.document import HIGHEST_FT, SPEED, Document, Wrong, told
from keelturn.figures.catalogue import figure_of
from keelturn.figures.figure import Side


class FlownBy(StrEnum):
    """Who has the controls: the words of plan, attempt and record alike."""

    SHOWN = "instructor shows"
    FOLLOWS = "student follows through"
    WITH_TALK = "student with talk"
    ALONE = "student alone"
    TALKS = "student talks, instructor flies"
    AGAINST = "student against an instructor who plays the student"

    @property
    def by_student(self) -> bool:
        """Whether the recovery is the student's own work: what counts for faults and standards."""
        return self in (FlownBy.WITH_TALK, FlownBy.ALONE, FlownBy.AGAINST)

    @property
    def in_short(self) -> str:
        """For a list of figures, behind each."""
        return SHORT[self]


SHORT: Mapping[FlownBy, str] = {
    FlownBy.SHOWN: "shown",
    FlownBy.FOLLOWS: "followed through",
    FlownBy.WITH_TALK: "with talk",
    FlownBy.ALONE: "alone",
    FlownBy.TALKS: "talked through",
    FlownBy.AGAINST: "taught back",
}


class PlannedFigure(Document):
    id: str = told("Name", hidden=True, min_length=1, max_length=40)
    key: str = told("Figure", hidden=True)
    side: Side = told("Side", "", "left")
    start_ft: float = told("Start", "ft", ge=0, le=HIGHEST_FT, description="On QNH")
    entry_ias: float | None = told(
        "Entry",
        SPEED,
        None,
        gt=0,
        le=500,
        description="In the aircraft's speed unit; null for the gate's",
    )
    parameters: dict[str, float] = Field(
        default_factory=dict, title="Settings", json_schema_extra={"hidden": True}
    )
    school: str | None = told("Recovery method", "", None, hidden=True)
    flown_by: FlownBy = told("Who flies", "", FlownBy.WITH_TALK, hidden=True)

    @model_validator(mode="after")
    def parameters_belong_to_the_figure(self) -> "PlannedFigure":
        figure = figure_of(self.key)
        for name, value in self.parameters.items():
            known = figure.parameters.get(name)
            if known is None:
                labels = ", ".join(p.label for p in figure.parameters.values()) or "none"
                what = f"a {figure.name} has no such setting"
                raise Wrong((f"parameters.{name}", what, f"It has {labels}."))
            if not known.least <= value <= known.most:
                limits = f"{known.least:g} to {known.most:g} {known.unit}".strip()
                raise Wrong((f"parameters.{name}", f"{value:,.10g} is outside {limits}", f"Give {limits}."))
        return self

    @property
    def as_flown(self) -> tuple[object, ...]:
        """Everything that its flight depends on besides the height it begins at: what tells one flight from
        another in a memory."""
        return (self.key, self.side, self.entry_ias, self.school, tuple(sorted(self.parameters.items())))

    @property
    def title(self) -> str:
        """'Two-turn spin, left'."""
        figure = figure_of(self.key)
        words = figure.title(self.parameters)
        return f"{words}, {self.side}" if figure.has_sides else words

    def parameter(self, name: str) -> float:
        """The setting, or the figure's usual one."""
        return self.parameters.get(name, figure_of(self.key).parameters[name].usual)
