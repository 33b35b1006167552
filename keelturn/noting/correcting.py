"""Corrections of one thing noted of an attempt, after its record was signed: what stood there and what counts
from then on. The record itself stays as it was signed."""

from collections.abc import Iterable

from pydantic import Field, model_validator

from keelturn.document import Document, Wrong
from keelturn.figures.catalogue import figure_of
from keelturn.figures.figure import fault_of
from keelturn.noting.attempt import Attempt, disagreements
from keelturn.noting.earned import EARNED, not_earned
from keelturn.noting.entry import VALUES, What

Value = bool | float | str | None
# What can be corrected: not the figure itself, nor what the student or the instructor said.
CORRECTABLE = (
    What.GRADE,
    What.FAULT,
    What.FLOWN_BY,
    What.OUTCOME,
    What.START,
    What.RECOVER,
    What.LOWEST,
    What.LEVEL,
    What.TAKEN_OVER,
    What.TURNS,
    What.MOST_G,
    What.ROLLING_G,
    What.FASTEST,
    What.FEEL,
)


class FieldCorrection(Document):
    """attempt: its id. about: of a fault its key, whose values are true and false. before: what counted until
    now, null where nothing was noted. after: what counts from now on, null where nothing is known."""

    attempt: str = Field(min_length=1, max_length=40)
    what: What
    about: str = Field("", max_length=40)
    before: Value = None
    after: Value = None

    @model_validator(mode="after")
    def it_can_be(self) -> "FieldCorrection":
        if self.what not in CORRECTABLE:
            label = Attempt.model_fields[self.what].title if self.what in Attempt.model_fields else self.what
            raise Wrong(("what", f"'{label}' is not corrected by itself", "Write what is correct in words."))
        if (self.what == What.FAULT) != bool(self.about):
            raise Wrong(("about", "names what a fault is of, and nothing else", "Choose the fault."))
        if self.what == What.FAULT and not isinstance(self.after, bool):
            raise Wrong(("after", "a fault was made or not", "Say true or false."))
        if self.what == What.FLOWN_BY and self.after is None:
            raise Wrong(("after", "somebody flew it", "Choose who."))
        if self.after is not None:
            VALUES.model_validate({self.what: self.after})
        if self.before == self.after:
            raise Wrong(("after", "that is what stands there already", "Enter what is correct."))
        return self


def stands(attempt: Attempt, what: What, about: str = "") -> Value:
    """What counts at that place."""
    if what == What.FAULT:
        return about in attempt.faults
    value: Value = getattr(attempt, what)
    return None if value == "" else value


def corrected(attempt: Attempt, corrections: Iterable[FieldCorrection]) -> Attempt:
    """As it counts after these, in their order; those of other attempts change nothing. Raises ValueError for
    a fault that the figure does not have."""
    written = attempt.model_dump()
    for one in corrections:
        if one.attempt != attempt.id:
            continue
        if one.what == What.FAULT:
            kept = tuple(key for key in written["faults"] if key != one.about)
            written["faults"] = (*kept, one.about) if one.after else kept
            continue
        written[one.what] = one.after
        # Whoever corrects a height has read it off.
        written["offered"] = tuple(name for name in written["offered"] if name != one.what)
    return Attempt.model_validate(written)


def require_it_holds(attempt: Attempt, one: FieldCorrection) -> None:
    """Of the attempt as it counts now. Raises Wrong where something else stands there, and where what it
    would become cannot be."""
    if stands(attempt, one.what, one.about) != one.before:
        raise Wrong(("before", "something else stands there by now", "Look at the record again."))
    if one.what == What.FAULT and fault_of(figure_of(attempt.planned.key), one.about) is None:
        raise Wrong(("about", f"this figure has no fault '{one.about}'", "Choose one that it has."))
    after = corrected(attempt, [one])
    if one.what in (What.GRADE, What.FLOWN_BY) and not_earned(after):
        what = f"'{after.grade}' is not earned by '{after.flown_by}'"
        do = f"Choose {' or '.join(EARNED[after.flown_by])}."
        if one.what == What.FLOWN_BY:
            do = "Correct the grade to not known first, then who flew, then give the grade."
        raise Wrong(("after", what, do))
    before = set(disagreements(attempt))
    if found := [trouble for trouble in disagreements(after) if trouble not in before]:
        _, what, do = found[0]
        raise Wrong(("after", what, do))


def in_words(attempt: Attempt, one: FieldCorrection) -> str:
    """'Grade Guided, not Sound': what it is now and what it was."""
    if one.what == What.FAULT:
        fault = fault_of(figure_of(attempt.planned.key), one.about)
        words = fault.words if fault else one.about
        return f"Fault '{words}' {'added' if one.after else 'taken out'}"
    field = Attempt.model_fields[one.what]
    unit = str((field.json_schema_extra or {}).get("unit", ""))  # type: ignore[union-attr]
    now, then = (_said(value, unit if unit == "ft" else "") for value in (one.after, one.before))
    return f"{field.title} {now or 'not known'}, {f'not {then}' if then else 'which was not noted'}"


def _said(value: Value, unit: str) -> str:
    if isinstance(value, float | int):
        return f"{value:,g} {unit}".rstrip()
    return value or ""
