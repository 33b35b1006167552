"""The open documents of the command line: what is asked and what is answered, versioned, unknown fields
refused with their place.

Schemas are published in docs/schemas and described in docs/formats.md; a test keeps them true.
"""

from datetime import datetime
from typing import Literal

from pydantic import Field, field_validator, model_validator

from keelturn.aircraft.card import Card
from keelturn.aircraft.loading import Load
from keelturn.assess.attempts import Attempt
from keelturn.document import HIGHEST_FT, Document, Wrong
from keelturn.figures.catalogue import FIGURES
from keelturn.figures.figure import Stage
from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.flying.fitting import approvals_wrong
from keelturn.flying.pilots import PILOTS, Who
from keelturn.plan.document import PlanDocument, conditions_of
from keelturn.recording.recorder import Sensors
from keelturn.school.place import Place
from keelturn.school.standards import Standards
from keelturn.weather.day import Day

Pilot = dict[str, float]


class Setting(Document):
    """What every request says of aircraft, place, school and student."""

    version: Literal[1] = 1
    card: Card
    place: Place = Place(name="Sea level", elevation_ft=0, block_top_ft=10000)
    standards: Standards = Standards()
    student_stage: Stage = "practised"
    parachute_days: float | None = Field(None, ge=0)
    off_blocks: datetime | None = Field(
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
    """A pilot from outside: numbers by name (docs/formats.md), those missing are the usual ones of `who`.
    Delays of nothing and controls that move at once are allowed."""

    who: Who = "student"
    numbers: Pilot = {}

    @model_validator(mode="after")
    def numbers_exist(self) -> "PilotNumbers":
        known = {**PILOTS[self.who], "roll_acc_deg_s2": None}
        for name, value in self.numbers.items():
            if name not in known:
                raise ValueError(f"numbers.{name}: no such number; there are {', '.join(known)}")
            if not -1e6 <= value <= 1e6:
                raise ValueError(f"numbers.{name}: {value:g} is outside -1,000,000 to 1,000,000")
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
        return self


class AssessRequest(PlanRequest):
    flown: tuple[Flown, ...] = Field(min_length=1, max_length=60)


class SimulateRequest(PlanRequest):
    pilot: PilotNumbers = Field(
        PilotNumbers(), description="numbers here are added to the usual ones: habits"
    )
    sensors: Sensors = Sensors()


REQUESTS: dict[str, type[Document]] = {
    "predict": PredictRequest,
    "plan": PlanRequest,
    "assess": AssessRequest,
    "simulate": SimulateRequest,
}
