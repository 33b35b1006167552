"""Requests and responses of planning, briefing and the book of figures."""

from typing import Annotated, Any

from pydantic import Field, StringConstraints

from keelturn.document import Moment
from keelturn.plan.document import PlanDocument
from keelturn.plan.figure_answer import FigureAnswer
from keelturn.plan.proposal import Difference
from keelturn.plan.sequence import PlanAnswer
from keelturn.plan.what_if import CloserLook
from keelturn.school.standards import FigureStandard
from keelturn.weather.day import Day
from server.api.schema import Schema
from server.api.schemas import Id


class Preview(Schema):
    plan: PlanDocument
    aircraft_id: Id
    place_id: Id


class LookAt(Preview):
    """figure: the id of the one that is looked at."""

    figure: str


class Why(Schema):
    """at: where the number stands in what was sent: 'answer.figures.2.lowest_start', 'accounts.a1.flown', or
    in a closer look at `figure` 'look.gate.lowest'. draft: what it was computed from; null for what is
    stored."""

    at: str = Field(min_length=1, max_length=200)
    draft: Preview | None = None
    figure: str | None = None


class ThreeChoices(Schema):
    """lesson: a key of the syllabus, 'free', or null for the next one. planned_for: null for the next time
    that suits. instructor_id: null for the one who asks."""

    student_id: Id
    aircraft_id: Id
    instructor_id: Id | None = None
    lesson: str | None = None
    planned_for: Moment | None = None


class AbleOut(Schema):
    """Another aircraft of the fleet that may fly all of the lesson."""

    id: Id
    registration: str


class BeforeOut(Schema):
    """Something that should come before the lesson and has not. stops: whether the chief lets it stop the
    flight."""

    title: str
    words: str
    stops: bool


class ProposedOut(Schema):
    """when: by what the time was chosen, in words; empty where it was asked for. way_out: what was changed so
    that it fits, in words; empty when nothing had to be. able: where this aircraft may not fly all of it."""

    planned_for: Moment
    when: str
    lesson: str
    lesson_name: str
    purpose: str
    place_id: Id
    place: str
    plan: PlanDocument
    fits: bool
    why: list[str]
    way_out: str
    able: list[AbleOut]
    before: list[BeforeOut]
    clashes: list[str]


class FitOut(Schema):
    """headline: all that accepting would change, in one line; differences: the same, each by itself; plan and
    answer are null when nothing was found."""

    fits: bool
    why: str
    headline: str
    differences: list[Difference]
    plan: PlanDocument | None
    answer: PlanAnswer | None


class AskWeather(Schema):
    """report: pasted text; null to fetch. `day` is what stood there before."""

    day: Day
    place_id: Id
    report: str | None = Field(None, max_length=1000)


class DayReadOut(Schema):
    day: Day
    doubts: list[str]
    taken: str


class PlanFile(Schema):
    document: Any


Text = Annotated[str, StringConstraints(strip_whitespace=True)]


class NewQuestion(Schema):
    text: Text = Field(min_length=3, max_length=600)
    figure: str = Field("", max_length=40)


class NewAnswer(Schema):
    text: Text = Field(min_length=1, max_length=1000)


class ChangeOut(Schema):
    by: str
    at: Moment
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
    version: Id
    standard: FigureStandard
