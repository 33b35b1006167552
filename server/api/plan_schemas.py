"""Requests and responses of planning, briefing and the book of figures."""

from datetime import datetime
from typing import Any

from ninja import Schema
from pydantic import Field

from keelturn.plan.document import PlanDocument
from keelturn.plan.figure_answer import FigureAnswer
from keelturn.plan.proposal import Difference
from keelturn.plan.sequence import PlanAnswer
from keelturn.plan.what_if import CloserLook
from keelturn.school.standards import FigureStandard
from keelturn.weather.day import Day


class Preview(Schema):
    plan: PlanDocument
    aircraft_id: int
    place_id: int


class LookAt(Preview):
    """figure: the id of the one that is looked at."""

    figure: str


class ThreeChoices(Schema):
    """lesson: a key of the syllabus, 'free', or null for the next one. planned_for: null for the next time
    that suits."""

    student_id: int
    aircraft_id: int
    lesson: str | None = None
    planned_for: datetime | None = None


class ProposedOut(Schema):
    planned_for: datetime
    lesson: str
    lesson_name: str
    purpose: str
    place_id: int
    place: str
    plan: PlanDocument
    fits: bool
    why: list[str]
    clashes: list[str]


class FitOut(Schema):
    """differences: what accepting would change, each by itself; plan and answer are null when nothing was
    found."""

    fits: bool
    why: str
    changes: list[str]
    differences: list[Difference]
    plan: PlanDocument | None
    answer: PlanAnswer | None


class AskWeather(Schema):
    """report: pasted text; null to fetch. `day` is what stood there before."""

    day: Day
    place_id: int
    report: str | None = Field(None, max_length=1000)


class DayReadOut(Schema):
    day: Day
    doubts: list[str]
    taken: str


class PlanFile(Schema):
    document: Any


class NewQuestion(Schema):
    text: str = Field(min_length=3, max_length=600)
    figure: str = Field("", max_length=40)


class NewAnswer(Schema):
    text: str = Field(min_length=1, max_length=1000)


class QuestionOut(Schema):
    id: int
    by: str
    at: datetime
    figure: str
    text: str
    answer: str
    answered_by: str | None


class ReadOut(Schema):
    """current: the plan has not changed since it was read."""

    at: datetime
    current: bool


class ChangeOut(Schema):
    by: str
    at: datetime
    before: Any
    after: Any


class BookOut(Schema):
    """One figure in one aircraft on one day. refused: why it cannot be computed; answer and look are null
    then."""

    key: str
    approved: bool
    refused: str | None
    answer: FigureAnswer | None
    look: CloserLook | None
    standard: FigureStandard
    version: int
    changes: list[ChangeOut]


class FigureStandardIn(Schema):
    version: int
    standard: FigureStandard
