"""What the open documents are made of: parts that refuse unknown fields, and numbers that say where they came
from."""

import re
from datetime import UTC, datetime
from functools import cache
from types import UnionType
from typing import Annotated, Any, Literal, Union, get_args, get_origin

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, model_validator

from keelturn.working import Answer, Provenance, Rounding, Source, given

HIGHEST_FT = 30000.0
CardSource = Literal["not given", "flight manual", "placard", "measured here", "school", "common practice"]


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

    @model_validator(mode="before")
    @classmethod
    def numbers_are_numbers(cls, given: Any) -> Any:
        """true and "5000" are not taken for numbers, as the validator would by itself."""
        if not isinstance(given, dict):
            return given
        wrong = tuple(
            (where, f"{_as_written(value)} is not a number", "Write a number, without quotation marks.")
            for name in _number_fields(cls)
            if name in given
            for where, value in members(name, given[name])
            if isinstance(value, bool | str)
        )
        if wrong:
            raise Wrong(*wrong)
        return given


FIRST_YEAR, LAST_YEAR = 1970, 2100


def _in_reach(at: datetime) -> datetime:
    """Aware: a time without a zone is UTC."""
    if not FIRST_YEAR <= at.year < LAST_YEAR:
        raise ValueError(f"the year {at.year} is outside {FIRST_YEAR} to {LAST_YEAR - 1}")
    return at if at.tzinfo else at.replace(tzinfo=UTC)


Moment = Annotated[datetime, AfterValidator(_in_reach)]
WORD = re.compile(r"[^\W\d_]{2,}")


def _says_something(text: str) -> str:
    """Without the blanks around it, and with two words in it at least."""
    text = " ".join(text.split())
    if len(WORD.findall(text)) < 2:
        raise ValueError("this says nothing: write a sentence, in words")
    return text


def _says_a_word(text: str) -> str:
    """Without the blanks around it, and with one word in it at least."""
    text = " ".join(text.split())
    if not WORD.search(text):
        raise ValueError("this says nothing: write it in words")
    return text


# Why something signed was not right: "typo" is a reason.
Reason = Annotated[str, AfterValidator(_says_a_word)]
# What somebody answers for with their name: the reason of an override, a correction in words.
Sentence = Annotated[str, AfterValidator(_says_something)]


@cache
def _number_fields(kind: type[Document]) -> tuple[str, ...]:
    return tuple(name for name, field in kind.model_fields.items() if _wants_numbers(field.annotation))


def _wants_numbers(annotation: Any) -> bool:
    """Whether numbers, alone or by name, are all that may stand there."""
    made = get_origin(annotation)
    if made is Annotated:
        return _wants_numbers(get_args(annotation)[0])
    if made is dict:
        return _wants_numbers(get_args(annotation)[1])
    if made in (Union, UnionType):
        kinds = [kind for kind in get_args(annotation) if kind is not type(None)]
        return bool(kinds) and all(_wants_numbers(kind) for kind in kinds)
    return annotation in (float, int)


def members(name: str, value: Any) -> list[tuple[str, Any]]:
    """What stands at a field, each with its place."""
    if isinstance(value, dict):
        return [(f"{name}.{key}", member) for key, member in value.items()]
    if isinstance(value, tuple):
        return [(f"{name}[{i}]", member) for i, member in enumerate(value)]
    return [(name, value)]


def _as_written(value: bool | str) -> str:
    return ("true" if value else "false") if isinstance(value, bool) else repr(value[:40])


SPEED = "speed"


def told(
    label: str,
    unit: str = "",
    default: Any = ...,
    *,
    hidden: bool = False,
    estimated: bool = False,
    **bounds: Any,
) -> Any:
    """A field as a person meets it: what it is called and in what unit; SPEED is the aircraft's own. For a
    part the label is the heading its fields stand under. hidden: not entered with the others. estimated: from
    the rest of the document, where it is left blank."""
    extra: dict[str, Any] = {"unit": unit, "hidden": hidden, **({"estimated": True} if estimated else {})}
    return Field(default, title=label, json_schema_extra=extra, **bounds)


class Stated(Document):
    """One number and where it came from: not given until somebody says so."""

    value: float
    source: CardSource = "not given"
    ref: str = Field("", max_length=160)

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
