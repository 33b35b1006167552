"""The plan as a document: what the instructor decides. Unknown fields and absurd values are refused with
their place."""

from collections.abc import Mapping
from datetime import datetime
from typing import Literal

from pydantic import Field, model_validator

from keelturn.aircraft.card import Card
from keelturn.aircraft.loading import Load, loading
from keelturn.document import HIGHEST_FT, Document, Moment, Sentence, Wrong, told
from keelturn.figures.figure import Stage
from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.flying.deviations import OwnLoss
from keelturn.school.before import Missing
from keelturn.school.dates import Dated
from keelturn.school.place import Place
from keelturn.school.standards import Standards
from keelturn.weather.day import Day


class Override(Document):
    """A stop that an instructor has overridden, with the reason. Stays on the record.

    check: the stop's id; id: the override's own, from whoever makes it. The rest is written by the server
    when it is stored: who and when, what the stop was called then, the number that decided it as it was
    shown, and how much was to spare (negative, in that number's unit). It holds for that much and no more.
    The sender's number and room say what stood there when it was given; for more it is not stored."""

    id: str = Field("", max_length=40)
    check: str = Field(min_length=1, max_length=80)
    reason: Sentence = Field(min_length=8, max_length=500)
    by: str = Field("", max_length=80)
    at: Moment | None = None
    title: str = Field("", max_length=200)
    number: str = Field("", max_length=40)
    room: float | None = None
    spare: str = Field("", max_length=40)


MOST_SEED = 999_999
# What the names of set-ups begin with, and of no planned figure.
SET_UP = "set-up-"


class Surprises(Document):
    """How many set-ups for closed eyes are wanted, and the seed that they are drawn from."""

    count: int = told("Set-ups", "", 4, ge=1, le=12)
    seed: int = told("Seed", "", 1, hidden=True, ge=0, le=MOST_SEED)


class PlanDocument(Document):
    version: Literal[1] = told("Version", "", 1, hidden=True)
    lesson: str = told("Lesson", "", "spins_both_ways", max_length=60)
    day: Day = told("Day", "", Day())
    load: Load = told("Load")
    feeling: int | None = told(
        "The student's number",
        "",
        None,
        ge=0,
        le=10,
        description="The student's own number before the flight; null when not asked",
    )
    own_floor_ft: float | None = told(
        "My own floor",
        "ft QNH",
        None,
        ge=0,
        le=HIGHEST_FT,
        description="The instructor's own floor, on QNH",
    )
    figures: tuple[PlannedFigure, ...] = told("Figure", max_length=60)
    surprises: Surprises | None = told("Set-ups for closed eyes", "", None)
    overrides: tuple[Override, ...] = told("Override", "", (), hidden=True, max_length=60)

    @model_validator(mode="after")
    def figure_ids_differ(self) -> "PlanDocument":
        ids = [figure.id for figure in self.figures]
        if len(set(ids)) != len(ids):
            raise Wrong(("figures", "two figures have the same name", "Give each its own."))
        if any(name.startswith(SET_UP) for name in ids):
            raise Wrong(("figures", f"a figure's name begins with '{SET_UP}'", "Give it another."))
        return self


def unseen_in_words(plan: PlanDocument) -> str:
    """What everybody is told of the set-ups; nothing where there are none."""
    if plan.surprises is None:
        return ""
    return f"Eyes closed: {plan.surprises.count} set-ups that are told in the air."


def conditions_of(
    plan: PlanDocument,
    card: Card,
    place: Place,
    standards: Standards,
    stage: Stage,
    parachute_days: float | None,
    off_blocks: datetime | None = None,
    own: Mapping[str, OwnLoss] | None = None,
    dates: tuple[Dated, ...] = (),
    weather_due: bool = False,
    before: tuple[Missing, ...] = (),
) -> Conditions:
    """Raises ValueError when the load does not fit the card."""
    return Conditions(
        card,
        place,
        standards,
        stage,
        plan.day,
        plan.load,
        loading(card, plan.load),
        plan.own_floor_ft,
        parachute_days,
        off_blocks,
        own or {},
        dates,
        weather_due,
        before,
    )
