"""What the API takes and gives of a student: the line in the list, the way through a course, the standing."""

from datetime import date

from pydantic import Field

from keelturn.assess.briefed import Briefed
from keelturn.document import Moment, Sentence
from keelturn.figures.figure import Family
from keelturn.figures.figure import Stage as StudentStage
from keelturn.figures.planned import FlownBy
from keelturn.margins.own import OwnPlace
from keelturn.progress.habits import FaultTrend
from keelturn.progress.states import FlightMark, State
from keelturn.progress.versions import Differs, Moves
from server.api.schema import Schema
from server.api.schemas import Id, SortieLine


class StudentLine(Schema):
    id: int
    name: str
    stage: StudentStage
    course: str = Field(description="What it is called; empty for who is in none")
    sorties: int
    last_flew: Moment | None
    booked: Moment | None
    is_due: bool
    why_due: str
    next_lesson: str
    next_why: str
    last_feel: int | None = Field(description="0 to 10, the last that was given")
    stubborn: FaultTrend | None = Field(description="The fault that is not going away")


class TaskOut(Schema):
    """state: today; reached: without what has lapsed; missing: for the next state."""

    task: str
    title: str
    family: Family
    figure: str
    state: State
    reached: State
    needed: State
    met: bool
    reasons: list[str]
    missing: list[str]
    standard: str
    lapses_on: date | None
    last_flown: date | None
    marks: list[FlightMark]


class GroundOut(Schema):
    key: str
    words: str
    hours: float
    done_by: str | None
    done_at: Moment | None


class WayOut(Schema):
    """newest: the version of the course in force."""

    course: str
    name: str
    version: int
    newest: int
    began: Moment
    met: bool
    flight_h: float
    ground_h: float
    ground_done_h: float
    tasks: list[TaskOut]
    ground: list[GroundOut]


class OfferOut(Schema):
    lesson: str
    name: str
    why: str


class NotYetOut(Schema):
    lesson: str
    name: str
    missing: list[str]


class NextOut(Schema):
    lesson: str
    name: str
    purpose: str
    why: list[str]
    missing: list[str]
    gentler: OfferOut | None
    harder: OfferOut | None
    not_yet: list[NotYetOut]


class StandingAhead(Schema):
    day: date
    standing: StudentStage
    why: str


class StandingOut(Schema):
    """standing: what counts; follows: what the tasks come to, and why. set_by: who set it otherwise; null
    where it follows. ahead: when the one that follows falls, if nothing more is flown."""

    standing: StudentStage
    follows: StudentStage
    why: str
    missing: list[str]
    set_by: str | None
    set_at: Moment | None
    reason: str
    ahead: list[StandingAhead]


class StandingIn(Schema):
    standing: StudentStage | None = Field(description="Null: as it follows from the tasks")
    reason: Sentence = Field(max_length=300)


class EnrolIn(Schema):
    course: str | None = Field(description="Its name in files; null: out of the course only")
    why: str = Field("", max_length=300)


class MoveIn(Schema):
    version: Id


class MoveOut(Schema):
    """What moving the student to the version in force changes: of the course, and of their tasks."""

    version: int
    differs: list[Differs]
    tasks: list[Moves]


class GroundIn(Schema):
    done: bool


class FeltOut(Schema):
    """flight: the sortie. feel: the last number of it that the student gave, 0 to 10."""

    flight: int
    day: date
    feel: int


class SaidOut(Schema):
    """What was said to the student at the end of the last debriefed flight."""

    sortie_id: int
    at: Moment
    by: str
    one_thing: str
    next: str


class PastAttempt(Schema):
    """corrected: what was corrected of it after signing, in words; the rest is as it counts since."""

    sortie_id: int
    flown_on: Moment
    figure: str
    title: str
    flown_by: FlownBy
    lost_ft: float
    briefed_ft: float | None
    best_ft: float | None = Field(description="The least that the aircraft allowed, of the figure as planned")
    grade: str | None
    faults: list[str]
    corrected: list[str]


class StudentCounted(Schema):
    """Of a student's page what takes longest to count. missing: for the next standing. signed: the lines of
    the signed sorties. briefed: of each
    figure what it was briefed to cost when it was flown last, and where it lay among the population's."""

    attempts: list[PastAttempt]
    trends: list[FaultTrend]
    felt: list[FeltOut]
    way: WayOut | None
    next: NextOut | None
    missing: list[str]
    signed: list[SortieLine]
    briefed: dict[str, tuple[float, Briefed]]


class StudentOut(StudentLine):
    """way: through the course that the student is in; null for who is in none. own: where they stand among
    the population's pilots, in each figure that counts."""

    now: Moment
    person_id: int
    goal: str
    attempts: list[PastAttempt]
    trends: list[FaultTrend]
    record: list[SortieLine]
    felt: list[FeltOut]
    said: SaidOut | None
    own: list[OwnPlace]
    standing: StandingOut
    way: WayOut | None
    next: NextOut | None
