"""What the open documents are made of: parts that refuse unknown fields, and numbers that say where they came
from."""

from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from keelturn.working import Answer, Provenance, Rounding, Source, given

HIGHEST_FT = 30000.0
CardSource = Literal["flight manual", "placard", "measured here", "school", "common practice"]


# Where it stands, what is wrong, what to do.
Trouble = tuple[str, str, str]


class Wrong(ValueError):
    """What cannot be, of a document or of something read: each problem with where it stands, what is wrong
    and what to do."""

    def __init__(self, *problems: Trouble) -> None:
        super().__init__("; ".join(f"{where}: {what}. {do}" for where, what, do in problems))
        self.problems = problems


class Document(BaseModel):
    """A part of an open document: unknown fields are refused, with their place."""

    model_config = ConfigDict(extra="forbid", frozen=True, allow_inf_nan=False)


SPEED = "speed"


def told(label: str, unit: str = "", default: Any = ..., *, hidden: bool = False, **bounds: Any) -> Any:
    """A field as a person meets it: what it is called and in what unit; SPEED is the aircraft's own. For a
    part the label is the heading its fields stand under. hidden: not entered with the others."""
    return Field(default, title=label, json_schema_extra={"unit": unit, "hidden": hidden}, **bounds)


class Stated(Document):
    """One number and where it came from."""

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


class Standard(Document):
    """One number of the school's and where it came from."""

    value: Annotated[float, Field(ge=0, le=HIGHEST_FT)]
    source: Literal["regulation", "school", "common practice"] = "school"
    ref: str = Field("school standards", max_length=160)

    def answer(self, label: str, unit: str, rounding: Rounding = "near") -> Answer:
        kind: Provenance = self.source
        return given(label, self.value, unit, Source(kind, self.ref), rounding)
