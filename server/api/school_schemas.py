"""What the API takes and gives of aircraft, places, standards and the catalogue."""

from datetime import date

from pydantic import Field

from keelturn.aircraft.blanks import EstimateLine
from keelturn.aircraft.card import Card
from keelturn.figures.figure import Fault
from keelturn.figures.figure import Stage as StudentStage
from keelturn.figures.planned import FlownBy
from keelturn.flying.spin import FitLine
from keelturn.formats.fields import FieldSpec
from keelturn.margins.blank_costs import BlankCost
from keelturn.noting.attempt import Outcome
from keelturn.progress.course import Needed
from keelturn.progress.spin_beside import SpinBeside
from keelturn.school.grading import Grade, Measure, Most
from keelturn.school.place import Place
from keelturn.school.standards import Standards
from server.api.schema import Schema
from server.api.schemas import Id


class AircraftOut(Schema):
    id: int
    registration: str
    version: int
    card: Card
    parachutes_packed_on: date | None
    usual_fuel_usgal: dict[str, float]
    parachute_lb: float
    spin_fit: list[FitLine]
    blanks: list[EstimateLine]


class BlanksOut(Schema):
    """Of the numbers that the card leaves blank, the one that costs most first."""

    costs: list[BlankCost]


class SpinsOut(Schema):
    """version: of the card that was looked at, which a change of it begins from."""

    version: int
    beside: SpinBeside


class AircraftIn(Schema):
    version: Id = 1
    registration: str = Field(min_length=2, max_length=12, pattern=r"^\s*\S.*\S\s*$")
    card: Card
    parachutes_packed_on: date | None = None


class PlaceOut(Schema):
    id: int
    version: int
    place: Place


class PlaceIn(Schema):
    version: Id = 1
    place: Place


class StandardsOut(Schema):
    version: Id
    standards: Standards


class ParameterOut(Schema):
    name: str
    label: str
    unit: str
    usual: float
    least: float
    most: float
    switch: bool
    found: bool


class SchoolOut(Schema):
    key: str
    name: str
    compared_only: bool
    taught: bool


class FigureOut(Schema):
    key: str
    name: str
    family: str
    purpose: str
    has_sides: bool
    faults: list[Fault]
    outcomes: list[Outcome]
    parameters: list[ParameterOut]
    schools: list[SchoolOut]


class GradeMeasure(Schema):
    """What grades are told by. most: as the program ships it, used where the chief says nothing."""

    measure: Measure
    label: str
    unit: str
    most: Most


class GradesAsked(Schema):
    """words: what each grade means, as the program ships it."""

    words: dict[Grade, str]
    measures: list[GradeMeasure]


class Catalogue(Schema):
    """needed: the states that a task can be asked for. earned: the grades that each way of flying can earn,
    lowest first."""

    flown_by: list[FlownBy]
    earned: dict[FlownBy, list[Grade]]
    standings: list[StudentStage]
    needed: list[Needed]
    figures: list[FigureOut]


class Forms(Schema):
    card: list[FieldSpec]
    place: list[FieldSpec]
    standards: list[FieldSpec]
    plan: list[FieldSpec]
    attempt: list[FieldSpec]
    debrief: list[FieldSpec]
