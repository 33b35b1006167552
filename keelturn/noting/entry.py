"""An entry: one thing noted, with an identity of its own. Entries are only ever added; a correction is a
later entry that replaces those which its writer saw."""

from collections.abc import Iterator
from datetime import datetime, timedelta
from enum import StrEnum
from typing import Any, Literal
from uuid import NAMESPACE_OID, uuid5

from pydantic import BaseModel, Field, TypeAdapter, create_model, model_validator

from keelturn.document import Document, Moment, Wrong
from keelturn.figures.planned import PlannedFigure
from keelturn.noting.attempt import Attempt, StopKind

# By a hand, by a recorder, or accepted by a hand as the key offered it: nobody read it off.
Source = Literal["hand", "recorder", "offered"]


class What(StrEnum):
    """What an entry says of its attempt: a field of Attempt by its name, or one of the others."""

    FIGURE = "figure"
    START = "start_ft"
    RECOVER = "recover_ft"
    LOWEST = "lowest_ft"
    LEVEL = "level_ft"
    TURNS = "turns"
    MOST_G = "most_g"
    ROLLING_G = "rolling_g"
    FASTEST = "fastest_ias"
    FEEL = "feel"
    FLOWN_BY = "flown_by"
    FAULT = "fault"
    OUTCOME = "outcome"
    TAKEN_OVER = "taken_over_ft"
    ABANDONED = "abandoned"
    GRADE = "grade"
    GRADE_REASON = "grade_reason"
    SAID = "said"
    OWN_GRADE = "own_grade"
    SURPRISE = "surprise"
    NOTE = "note"
    SKIPPED = "skipped"
    STOP = "stop"


# Those that are said of something: a fault of its key, a stop of its kind.
WITH_ABOUT = (What.FAULT, What.STOP)


# The student's own view.
OWN_VIEW = (What.OWN_GRADE, What.SURPRISE)


# What an entry may say, field by field, as the attempt's own fields have it.
FIELDS: dict[str, Any] = {
    **{
        what.value: (Attempt.model_fields[what].annotation, Attempt.model_fields[what])
        for what in What
        if what in Attempt.model_fields
    },
    What.FIGURE: (PlannedFigure | None, None),
    What.FAULT: (bool | None, None),
    What.STOP: (float | None, None),
}
VALUES: type[BaseModel] = create_model("Values", __base__=Document, **FIELDS)
Value = PlannedFigure | bool | float | str | None


class Entry(Document):
    """attempt: which go at which figure, by the name that its devices give it. about: the fault's key, the
    stop's kind. value: null takes back what stood there. replaces: the entries at the same place that the
    writer saw. at: by the device's clock; offset_s: the server's clock minus it, as it was measured last.
    by: who noted it, as the server writes it."""

    id: str = Field(min_length=8, max_length=40)
    attempt: str = Field(min_length=1, max_length=40)
    what: What
    about: str = Field("", max_length=40)
    value: Value = None
    replaces: tuple[str, ...] = Field((), max_length=40)
    device: str = Field(min_length=1, max_length=40)
    at: Moment
    offset_s: float = Field(0.0, ge=-1e9, le=1e9)
    source: Source = "hand"
    by: str = Field("", max_length=80)

    @model_validator(mode="after")
    def value_is_one_of_these(self) -> "Entry":
        if (self.what in WITH_ABOUT) != bool(self.about):
            raise Wrong(("about", "names what a fault or a stop is of, and nothing else", "Correct it."))
        if self.what == What.STOP and self.about not in set(StopKind):
            kinds = ", ".join(StopKind)
            raise Wrong(("about", f"'{self.about}' is no kind of stop", f"Give one of {kinds}."))
        if self.value is not None:
            VALUES.model_validate({self.what: self.value})
        return self

    @property
    def noted_at(self) -> datetime:
        """By the server's clock."""
        return self.at + timedelta(seconds=self.offset_s)

    @property
    def place(self) -> tuple[str, What, str]:
        """What it is said of: entries at one place replace or contradict each other."""
        return self.attempt, self.what, self.about


ENTRIES = TypeAdapter(tuple[Entry, ...])


def entries_of(attempt: Attempt, device: str, at: datetime, by: str = "") -> Iterator[Entry]:
    """What would have been noted for it: one entry for each thing that it says. Their names follow from the
    device's and the attempt's, so that doing it twice changes nothing."""

    def entry(what: What, value: Value, about: str = "") -> Entry:
        return Entry(
            id=str(uuid5(NAMESPACE_OID, f"{device} {attempt.id} {what} {about}")),
            attempt=attempt.id,
            what=what,
            about=about,
            value=value,
            device=device,
            at=at,
            source="offered" if what in attempt.offered and not about else "hand",
            by=by,
        )

    yield entry(What.FIGURE, attempt.planned)
    for what in What:
        if what not in Attempt.model_fields:
            continue
        value = getattr(attempt, what)
        usual = attempt.planned.flown_by if what == What.FLOWN_BY else Attempt.model_fields[what].default
        if value != usual:
            yield entry(what, value)
    for fault in attempt.faults:
        yield entry(What.FAULT, True, fault)
    for stop in attempt.stops:
        yield entry(What.STOP, stop.value, stop.kind)
