"""One attempt at a figure, as it was noted."""

from collections.abc import Mapping
from enum import StrEnum

from pydantic import field_validator, model_validator

from keelturn.document import HIGHEST_FT, SPEED, Document, Trouble, Wrong, told
from keelturn.figures.catalogue import figure_of
from keelturn.figures.figure import Family, Figure, fault_of
from keelturn.figures.planned import FlownBy, PlannedFigure
from keelturn.school.grading import Grade


class Outcome(StrEnum):
    """What became of it, apart from how well it was done; a take-over and what was broken off are noted
    beside it."""

    AS_INTENDED = "as intended"
    SPIRAL = "did not spin, became a spiral"
    OTHER_WAY = "spun the other way"
    FLAT = "went flat or over the vertical"
    SECONDARY_STALL = "secondary stall"


# What can become of a figure, by its family (common practice, no published source).
OF_ANY = (Outcome.AS_INTENDED, Outcome.SECONDARY_STALL)
OUTCOMES: Mapping[Family, tuple[Outcome, ...]] = {Family.SPINS: tuple(Outcome)}


def outcomes_of(figure: Figure) -> tuple[Outcome, ...]:
    return OUTCOMES.get(figure.family, OF_ANY)


class StopKind(StrEnum):
    """Which limit was crossed (work.md, the limits that stop a figure)."""

    FLOOR = "floor"
    TAKE_OVER = "take-over height"
    G = "g limit"
    ROLLING_G = "g limit while rolling"
    VNE = "Vne"
    FEEL = "feel"
    FUEL = "fuel reserve"


class StopNoted(Document):
    """A stop that came up in flight, and the number that crossed the line."""

    kind: StopKind
    value: float


class Otherwise(Document):
    """What somebody else, another device or the recorder noted at the same place, where it differs from what
    counts. what: a field of Attempt, of a fault with its key in `about`."""

    what: str
    about: str = ""
    value: float | str | bool
    by: str
    recorder: bool = False


HEIGHTS_DOWN = ("start_ft", "recover_ft", "lowest_ft")
# A height is read off to this (common practice, no published source).
READ_FT = 20.0


class Attempt(Document):
    """Heights on QNH. Everything may be left out and filled in later. Heights that do not agree with each
    other are kept as they were noted, and said (disagreements). offered: fields whose value was accepted as
    the key offered it, from the plan: nobody read it off."""

    id: str = told("Name", hidden=True, min_length=1, max_length=40)
    planned: PlannedFigure = told("Figure", hidden=True)
    start_ft: float | None = told("Start", "ft", None, ge=0, le=HIGHEST_FT)
    recover_ft: float | None = told("Recover", "ft", None, ge=0, le=HIGHEST_FT)
    lowest_ft: float | None = told("Lowest", "ft", None, ge=0, le=HIGHEST_FT)
    level_ft: float | None = told("Level", "ft", None, ge=0, le=HIGHEST_FT)
    turns: float | None = told("Turns", "", None, ge=0, le=20)
    most_g: float | None = told("Most g", "", None, ge=-10, le=12)
    rolling_g: float | None = told("Rolling g", "", None, ge=-10, le=12)
    fastest_ias: float | None = told("Fastest", SPEED, None, ge=0, le=500)
    feel: int | None = told("Feel", "", None, ge=0, le=10)
    flown_by: FlownBy = told("Who flew", "", FlownBy.WITH_TALK, hidden=True)
    faults: tuple[str, ...] = told("Faults", "", ())
    outcome: Outcome | None = told("What became of it", "", None, hidden=True)
    taken_over_ft: float | None = told("Taken over", "ft", None, ge=0, le=HIGHEST_FT)
    abandoned: str = told("Broken off", "", "", max_length=300)
    grade: Grade | None = told("Grade", "", None)
    grade_reason: str = told("Why this grade", "", "", max_length=300)
    said: str = told("Said", "", "", max_length=400)
    own_grade: Grade | None = told("Student's own grade", "", None, hidden=True)
    surprise: str = told("What surprised most", "", "", max_length=300, hidden=True)
    note: str = told("Note", "", "", max_length=1000)
    skipped: bool = told("Skipped", "", False)
    stops: tuple[StopNoted, ...] = told("Stops", hidden=True, default=())
    otherwise: tuple[Otherwise, ...] = told("Noted otherwise", hidden=True, default=())
    offered: tuple[str, ...] = told("Accepted as offered", hidden=True, default=())

    @field_validator("flown_by", mode="before")
    @classmethod
    def earlier_words(cls, flown_by: object) -> object:
        """Attempts stored before plan and attempt had the same words for it."""
        return {"instructor": FlownBy.SHOWN, "student": FlownBy.ALONE}.get(str(flown_by), flown_by)

    @model_validator(mode="after")
    def faults_are_the_figures(self) -> "Attempt":
        figure = figure_of(self.planned.key)
        for key in self.faults:
            if fault_of(figure, key) is None:
                raise Wrong(
                    ("faults", f"a {figure.name} has no fault '{key}'", "Choose one that this figure has.")
                )
        return self

    @property
    def says_something(self) -> bool:
        """Whether it can stand for a figure flown, broken off, or left out on purpose."""
        noted = self.lost_ft is not None or self.taken_over_ft is not None
        return noted or self.skipped or bool(self.abandoned)

    @property
    def to_the_end(self) -> bool:
        """Neither left out nor broken off: one that is graded."""
        return not self.skipped and not self.abandoned

    @property
    def loss_is_offered(self) -> bool:
        """Whether its loss is the plan's own, and says nothing of the flight."""
        return "lowest_ft" in self.offered

    @property
    def lost_ft(self) -> float | None:
        """Start to lowest, when both are noted and agree."""
        if self.start_ft is None or self.lowest_ft is None or self.lowest_ft > self.start_ft:
            return None
        return self.start_ft - self.lowest_ft


def disagreements(attempt: Attempt) -> tuple[Trouble, ...]:
    """Heights of an attempt that cannot all be right: where, what, what to do. Level is where it was lowest,
    or above; a hand and a recorder read the same height up to READ_FT apart."""
    there = [(name, height) for name in HEIGHTS_DOWN if (height := getattr(attempt, name)) is not None]
    found = [
        _disagree(low_name, low, "above", high_name, high)
        for (high_name, high), (low_name, low) in zip(there, there[1:], strict=False)
        if low > high
    ]
    level, lowest = attempt.level_ft, attempt.lowest_ft
    if level is not None and lowest is not None and level < lowest - READ_FT:
        found.append(_disagree("level_ft", level, "below", "lowest_ft", lowest))
    return tuple(found)


def _disagree(name: str, height: float, side: str, other_name: str, other: float) -> Trouble:
    label = str(Attempt.model_fields[other_name].title).lower()
    return name, f"{height:,.0f} ft is {side} {label}, {other:,.0f} ft", "Correct one of the two."
