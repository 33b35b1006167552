"""The open documents of the command line: what is asked and what is answered, versioned, unknown fields
refused with their place.

Schemas are published in docs/schemas and described in docs/formats.md; a test keeps them true.
"""

import math
from typing import Literal

from pydantic import Field, field_validator, model_validator

from keelturn.aircraft.card import Card
from keelturn.aircraft.loading import Load
from keelturn.document import HIGHEST_FT, Document, Moment, Wrong
from keelturn.figures.catalogue import FIGURES
from keelturn.figures.figure import Stage
from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.flying.fitting import approvals_wrong
from keelturn.flying.pilots import PILOTS, Form, Pilot, PilotNumber, Who, cannot_be, pilot_of
from keelturn.noting.attempt import Attempt, disagreements
from keelturn.plan.document import PlanDocument, conditions_of
from keelturn.recording.recorder import Sensors
from keelturn.school.dates import Dated
from keelturn.school.place import Place
from keelturn.school.standards import Standards
from keelturn.weather.day import Day


class Varies(Document):
    """A number of a pilot as a distribution: usual value, how much it varies (normal: one standard deviation;
    even: half the width), cut off at least and most."""

    usual: float
    varies: float = Field(0.0, ge=0)
    least: float | None = None
    most: float | None = None
    form: Form = "normal"

    def number(self) -> PilotNumber:
        least, most = (-math.inf if self.least is None else self.least), self.most
        return PilotNumber(self.usual, self.varies, least, math.inf if most is None else most, self.form)


class Setting(Document):
    """What every request says of aircraft, place, school and student."""

    version: Literal[1] = 1
    card: Card
    place: Place = Place(name="Sea level", elevation_ft=0, block_top_ft=10000)
    standards: Standards = Standards()
    student_stage: Stage = "practised"
    parachute_days: float | None = Field(None, ge=0)
    dates: tuple[Dated, ...] = Field((), max_length=60)
    off_blocks: Moment | None = Field(
        None, description="When the flight begins, for daylight and the age of the report"
    )

    @field_validator("card")
    @classmethod
    def approvals_can_be(cls, card: Card) -> Card:
        if found := tuple(approvals_wrong(card)):
            raise Wrong(*found)
        return card


class StartState(Document):
    """Where a recovery begins, given from outside. Bank right positive; the nose's pitch or the flight path;
    indicated speed in the aircraft's unit or EAS in kt."""

    bank_deg: float | None = Field(None, ge=-180, le=180)
    path_deg: float | None = Field(None, ge=-89, le=89)
    pitch_deg: float | None = Field(None, ge=-89, le=89)
    ias: float | None = Field(None, gt=0, le=500)
    eas_kt: float | None = Field(None, gt=0, le=500)
    power: float | None = Field(None, ge=0, le=1)
    flap: bool | None = None

    @model_validator(mode="after")
    def one_of_each(self) -> "StartState":
        for one, other in (("path_deg", "pitch_deg"), ("ias", "eas_kt")):
            if getattr(self, one) is not None and getattr(self, other) is not None:
                raise ValueError(f"{one} and {other} both given: keep one of them")
        return self


class PilotNumbers(Document):
    """A pilot from outside: numbers by name (docs/formats.md), each alone or as a distribution; those missing
    are the usual ones of `who`. Delays of nothing and controls that move at once are allowed."""

    who: Who = "student"
    numbers: dict[str, float | Varies] = {}

    @model_validator(mode="after")
    def numbers_can_be(self) -> "PilotNumbers":
        found = tuple(
            trouble for name, given in self.numbers.items() for trouble in cannot_be(name, _values(given))
        )
        if found:
            raise Wrong(*((f"numbers.{where}", what, do) for where, what, do in found))
        return self

    @property
    def fixed(self) -> dict[str, float]:
        """The usual value of each number that was given."""
        return {name: n if isinstance(n, float) else n.usual for name, n in self.numbers.items()}

    def pilot(self) -> Pilot:
        given = {name: n if isinstance(n, float) else n.number() for name, n in self.numbers.items()}
        return pilot_of(self.who, given)


def _values(given: float | Varies) -> tuple[float, ...]:
    if isinstance(given, float):
        return (given,)
    return tuple(v for v in (given.usual, given.least, given.most) if v is not None)


class Habits(Document):
    """What is added to the numbers of the usual pilot, by name."""

    who: Who = "student"
    numbers: dict[str, float] = {}

    @model_validator(mode="after")
    def numbers_can_be(self) -> "Habits":
        usual = PILOTS[self.who]
        found = tuple(
            trouble
            for name, added in self.numbers.items()
            for trouble in cannot_be(name, (added + usual[name].usual,) if name in usual else (added,))
        )
        if found:
            raise Wrong(*((f"numbers.{where}", what, do) for where, what, do in found))
        return self


class PredictRequest(Setting):
    """figures: those to compute, or all of the catalogue when left out, begun at start_ft."""

    day: Day = Day()
    load: Load | None = Field(None, description="Left out: loaded to the card's own weight for speeds")
    start_ft: float = Field(6000.0, ge=0, le=HIGHEST_FT)
    figures: tuple[PlannedFigure, ...] | None = Field(None, max_length=60)
    start: StartState = StartState()
    pilot: PilotNumbers = PilotNumbers()
    pilots: int = Field(
        2000, ge=0, le=20000, description="For the spread; 0 for none. 99 in 100 is given from 10,000"
    )
    entry_map: bool = False

    def planned(self) -> tuple[PlannedFigure, ...]:
        if self.figures is not None:
            return self.figures
        return tuple(PlannedFigure(id=f.key, key=f.key, start_ft=self.start_ft) for f in FIGURES)

    def conditions(self) -> Conditions:
        """Raises ValueError when the load does not fit the card."""
        balance = self.card.balance
        half = max(0.0, (self.card.speeds.reference_lb.value - balance.empty_lb.value) / 2.0)
        load = self.load if self.load is not None else Load(front_lb=half, rear_lb=half)
        plan = PlanDocument(day=self.day, load=load, figures=())
        return conditions_of(
            plan, self.card, self.place, self.standards, self.student_stage, self.parachute_days
        )


class PlanRequest(Setting):
    plan: PlanDocument
    propose: bool = Field(
        False, description="Also say which order and heights fit, or the smallest change that would"
    )

    def conditions(self) -> Conditions:
        """Raises ValueError when the load does not fit the card."""
        return conditions_of(
            self.plan,
            self.card,
            self.place,
            self.standards,
            self.student_stage,
            self.parachute_days,
            self.off_blocks,
            dates=self.dates,
        )


class Flown(Document):
    """An attempt to be explained: the pilot's numbers, or what was noted by hand, or both."""

    figure: PlannedFigure
    pilot: PilotNumbers | None = None
    noted: Attempt | None = None

    @model_validator(mode="after")
    def something_to_explain(self) -> "Flown":
        if self.pilot is None and self.noted is None:
            raise ValueError("neither pilot nor noted: give the pilot's numbers, or what was noted")
        if self.noted is not None and (found := disagreements(self.noted)):
            raise Wrong(*((f"noted.{where}", what, do) for where, what, do in found))
        return self


class AssessRequest(PlanRequest):
    flown: tuple[Flown, ...] = Field(min_length=1, max_length=60)


class SimulateRequest(PlanRequest):
    pilot: Habits = Habits()
    sensors: Sensors = Sensors()


REQUESTS: dict[str, type[Document]] = {
    "predict": PredictRequest,
    "plan": PlanRequest,
    "assess": AssessRequest,
    "simulate": SimulateRequest,
}
