"""Requests and responses. Core documents and answers are passed through as they are; no number is renamed
here."""

from typing import Annotated, Literal

from pydantic import Field, model_validator

from keelturn.aircraft.card import Card
from keelturn.assess.loss import LossAccount
from keelturn.document import Moment, Reason, Sentence, Wrong
from keelturn.formats.signed import Asked, BriefWasRead, Rebooked, StageChanged
from keelturn.margins.checks import Verdict
from keelturn.noting.attempt import Attempt
from keelturn.noting.correcting import FieldCorrection
from keelturn.noting.entry import Entry
from keelturn.plan.briefing import Brief, BriefItem, BriefPage
from keelturn.plan.document import PlanDocument
from keelturn.plan.sequence import PlanAnswer
from keelturn.progress.booking import LEAST_MIN, MOST_MIN
from keelturn.progress.stages import Debrief, Stage
from keelturn.school.place import Place
from server.api.schema import Schema

# Of a row, or a version of one: what the database can hold.
Id = Annotated[int, Field(ge=0, lt=2**31)]


class ProblemOut(Schema):
    """where: the place in what was sent; place: what it is called on the screen."""

    where: str
    place: str
    what: str
    do: str


class Problems(Schema):
    problems: list[ProblemOut]


class DifferenceOut(Schema):
    where: str
    place: str
    stored: str
    yours: str


class Conflict(Schema):
    """Somebody else stored this sortie meanwhile. Nothing of yours was kept; `version` is what to build
    on."""

    by: str
    at: Moment
    version: int
    differences: list[DifferenceOut]


Role = Literal["chief", "instructor", "student"]


class PersonOut(Schema):
    id: int
    name: str
    role: Role
    student_id: int | None = None


class LoadingOut(Schema):
    """The demo school is still being loaded: so many of its parts are there."""

    done: int
    of: int


class SessionOut(Schema):
    """zone: the school's, in which every time is shown. now: the server's clock. asks_code: name and password
    were right, and a code of the second factor is needed besides. mail: whether letters can be sent from
    here; letters_kept: whether a stand-in keeps them instead. school: what it is called; first_start: nobody
    is here yet, and whoever comes first is the chief. loading: how far the demo school is, while it is being
    loaded."""

    person: PersonOut | None
    zone: str
    now: Moment
    asks_code: bool = False
    mail: bool = False
    letters_kept: bool = False
    school: str = ""
    first_start: bool = False
    loading: LoadingOut | None = None


class LogIn(Schema):
    """code: of the second factor, where one is asked for."""

    username: str = Field(max_length=150)
    password: str = Field(max_length=200)
    code: str = Field(default="", max_length=40)


class SortieLine(Schema):
    id: int
    lesson: str
    lesson_name: str
    student: str
    student_id: int
    instructor: str
    aircraft: str
    aircraft_name: str
    place: str
    planned_for: Moment
    stage: Stage
    figures: int
    trouble: str | None = Field(None, description="Why it cannot be opened, and what to do")
    cancelled: str | None = Field(None, description="Why it is not flown; null while it is")


class NewSortie(Schema):
    """made_as: the asker's own name for it. Asked twice with the same, one is made."""

    made_as: str | None = Field(None, min_length=8, max_length=40)
    student_id: Id
    aircraft_id: Id
    instructor_id: Id | None = Field(None, description="Null for the one who asks")
    place_id: Id
    lesson: str = "spins_both_ways"
    planned_for: Moment
    plan: PlanDocument | None = Field(None, description="As proposed; null for the lesson laid out")
    copy_of: Id | None = Field(None, description="An earlier sortie whose figures are taken instead")


class SheetReadOut(Schema):
    at: Moment
    comment: str


class SheetIn(Schema):
    comment: str = Field("", max_length=1000)


class SignatureOut(Schema):
    by: str
    at: Moment
    digest: str
    holds: bool
    trouble: str | None = Field(description="The first thing about it that does not hold")


class CorrectionOut(Schema):
    """what: of one thing noted of an attempt, which counts since; null for one in words."""

    by: str
    at: Moment
    reason: str
    text: str
    what: FieldCorrection | None


class MayOut(Schema):
    """What the one who asks may do with this sortie now. save: store anything at all; move: the stage that
    they may mark next."""

    save: bool
    plan: bool
    read: bool
    note: bool
    grade: bool
    ask: bool
    own_view: bool
    sign: bool
    correct: bool
    sheet: bool
    book: bool
    hand_over: bool
    move: Stage | None


class SortieOut(SortieLine):
    """card, block: the aircraft's card and the place as the sortie was planned on them. newer: what has
    changed about them since, to be taken over or not."""

    version: int
    instructor_id: int
    aircraft_id: int
    place_id: int
    speed_unit: str
    student_stage: str
    lesson_purpose: str
    changed_by: str
    changed_at: Moment
    may: MayOut
    reached: list[Stage]
    plan: PlanDocument
    answer: PlanAnswer
    brief: Brief
    brief_items: list[BriefItem]
    attempts: list[Attempt]
    entries: list[Entry]
    attempt_titles: dict[str, str] = Field(description="By the attempt's id: the figure as it was flown")
    doubts: dict[str, list[ProblemOut]] = Field(description="By the attempt's id: what cannot all be right")
    accounts: dict[str, LossAccount]
    debrief: Debrief
    card: Card
    block: Place
    stage_changes: list[StageChanged]
    rebooked: list[Rebooked]
    newer: dict[Literal["aircraft", "place"], list[DifferenceOut]]
    missing: dict[str, list[str]]
    earlier_faults: dict[str, list[str]]
    brief_pages: list[BriefPage]
    read: BriefWasRead | None
    questions: list[Asked]
    clashes: list[str]
    signature: SignatureOut | None
    corrections: list[CorrectionOut]
    sheet_read: SheetReadOut | None = Field(description="When the student read the sheet, and what they said")


class SaveSortie(Schema):
    version: Id
    plan: PlanDocument | None = None
    brief: Brief | None = None
    debrief: Debrief | None = None
    aircraft_id: Id | None = None
    place_id: Id | None = None


class NewEntries(Schema):
    entries: list[Entry] = Field(max_length=500)


class NotTakenOut(Schema):
    id: str
    problem: ProblemOut


class EntriesTaken(Schema):
    """known: those of the sent that the server has. noted: how many the sortie has in all. now: the server's
    clock."""

    noted: int
    known: list[str]
    refused: list[NotTakenOut]
    now: Moment


class TakeOver(Schema):
    version: Id
    what: Literal["aircraft", "place"]


class MoveStage(Schema):
    version: Id
    to: Literal["planned", "briefed", "flown", "debriefed"]


class Book(Schema):
    """What is null stays."""

    version: Id
    planned_for: Moment | None = None
    instructor_id: Id | None = None
    aircraft_id: Id | None = None
    minutes: int | None = Field(None, ge=LEAST_MIN, le=MOST_MIN)


class Cancel(Schema):
    """reason: null puts it back."""

    version: Id
    reason: Sentence | None = Field(max_length=300)


class Sign(Schema):
    """noted: how many entries the record had that was looked at."""

    version: Id
    noted: Id
    password: str = Field(max_length=200)


class NewCorrection(Schema):
    """One of the two: text: what is correct, in words; what: of one thing noted of an attempt."""

    reason: Reason = Field(max_length=300)
    text: Sentence | None = Field(None, max_length=2000)
    what: FieldCorrection | None = None

    @model_validator(mode="after")
    def one_of_the_two(self) -> "NewCorrection":
        if (self.text is None) == (self.what is None):
            raise Wrong(("text", "nothing is corrected, or two things at once", "Say one thing."))
        return self


class ComingSortie(SortieLine):
    """mine: the asker's to look after. left_over: of an earlier day, and not signed."""

    mine: bool
    left_over: bool
    last_time: list[str]
    clashes: list[str]
    read: bool
    open_questions: int
    may_read: bool
    may_say: bool = Field(description="Whether the asker is to say how it was, before the talk")


class SignedSortie(SortieLine):
    sheet_read: bool


class Notice(Schema):
    verdict: Verdict
    title: str
    sentence: str


class Today(Schema):
    now: Moment
    sorties: list[ComingSortie]
    notices: list[Notice]
    recent: list[SignedSortie]


class InstructorOut(Schema):
    id: int
    name: str
