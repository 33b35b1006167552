"""What the API takes and gives of accounts and of who belongs to the school."""

from typing import Literal

from pydantic import Field

from keelturn.document import Moment
from server.api.schema import Schema
from server.api.schemas import Id, Role

PersonState = Literal["asked in", "in", "left", "erased"]


class OpenSessionOut(Schema):
    """agent: the program, as it calls itself; this: the one that asks."""

    id: str
    agent: str
    address: str
    began: Moment | None
    seen: Moment | None
    this: bool


class AccountOut(Schema):
    """codes_left: recovery codes that still open. calendar: the address at which a calendar reads one's
    bookings, empty where there is none. rules: of a password, in words."""

    username: str
    name: str
    email: str
    second_factor: bool
    codes_left: int
    calendar: str
    rules: list[str]
    sessions: list[OpenSessionOut]


class Passworded(Schema):
    password: str = Field(max_length=200)


class NewPassword(Schema):
    old: str = Field(max_length=200)
    new: str = Field(max_length=200)


class CodeIn(Schema):
    code: str = Field(min_length=1, max_length=40)


class ToScanOut(Schema):
    """picture: the square to scan, an SVG as the path of a page."""

    secret: str
    picture: str


class CodesOut(Schema):
    """Each opens once; they are shown this once."""

    codes: list[str]


class EndSession(Schema):
    """id: of one; null: of all but the one that asks."""

    id: str | None = Field(default=None, max_length=40)


class WelcomeOut(Schema):
    name: str
    username: str
    rules: list[str]


class Forgot(Schema):
    username: str = Field(min_length=1, max_length=150)


class ForgotOut(Schema):
    words: str


class PersonLine(Schema):
    """ahead: sorties that are theirs to fly, debrief or sign as instructor; state: asked in: no password of
    their own yet."""

    id: int
    username: str
    name: str
    email: str
    role: Role
    student_id: int | None
    weight_lb: float
    state: PersonState
    since: Moment | None
    left_why: str
    last_login: Moment | None
    second_factor: bool
    ahead: int


NAME = Field(min_length=2, max_length=80, pattern=r"^\s*\S.*\S\s*$")
USERNAME = Field(min_length=2, max_length=60, pattern=r"^[A-Za-z0-9][A-Za-z0-9._-]+$")
EMAIL = Field(default="", max_length=254, pattern=r"^$|^[^@\s]+@[^@\s]+\.[^@\s]+$")


# With clothes; asked of everybody, for every load begins with it.
WEIGHT_LB = Field(ge=66, le=400)


class FirstStartIn(Schema):
    """The first chief, and what the school is called."""

    school: str = NAME
    name: str = NAME
    username: str = USERNAME
    email: str = EMAIL
    weight_lb: float = WEIGHT_LB
    password: str = Field(max_length=200)


class StepOut(Schema):
    """One step from an empty installation to a first flight. to: where it is done; then: what there."""

    key: str
    words: str
    then: str
    done: bool
    to: str


class StepsOut(Schema):
    school: str
    steps: list[StepOut]


class SchoolNamed(Schema):
    name: str = NAME


class PersonIn(Schema):
    username: str = USERNAME
    name: str = NAME
    email: str = EMAIL
    role: Role = "student"
    student: bool = True
    weight_lb: float = WEIGHT_LB


class LeaveIn(Schema):
    """instead: who flies, debriefs and signs what is left of theirs as instructor."""

    reason: str = Field(min_length=3, max_length=300, pattern=r"^\s*\S.*\S\s*$")
    instead: Id | None = None


class LinkOut(Schema):
    """link: opens once, for three days; words: whether a letter with it is on its way."""

    link: str
    words: str
    person: PersonLine


class LetterOut(Schema):
    to: str
    subject: str
    text: str
    at: Moment


class LettersOut(Schema):
    """Where a stand-in keeps them instead of sending; the latest first."""

    letters: list[LetterOut]
