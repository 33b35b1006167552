"""What the API takes and gives of the week: bookings, dates, and who is not to be had."""

from datetime import date

from pydantic import Field

from keelturn.document import Moment
from keelturn.school.dates import Dated
from server.api.schema import Schema
from server.api.schemas import Id, SortieLine

# A word is enough, blanks are not.
SOMETHING = r"\S"


class LaneOut(Schema):
    """An aircraft or an instructor."""

    id: int
    name: str
    more: str = ""


class BookedSortie(SortieLine):
    """may_book: whether the asker may move it. last_flew: when its student flew last."""

    version: int
    begins: Moment
    ends: Moment
    aircraft_id: int
    instructor_id: int
    student_person: int
    place_id: int
    mine: bool
    may_book: bool
    clashes: list[str]
    last_flew: Moment | None


class TakenOut(Schema):
    """may_remove: whether the asker may."""

    id: int
    person_id: int | None
    aircraft_id: int | None
    of: str
    begins: Moment
    ends: Moment
    words: str
    file: str
    by: str
    may_remove: bool


class LightOut(Schema):
    day: date
    place_id: int
    rises: Moment | None
    sets: Moment | None


class UntilOut(Schema):
    """id: of the person or the aircraft."""

    id: int
    date: Dated


class WeekOut(Schema):
    """usual_min: how long a sortie is booked; kept_min: kept before sunset; long_days: after so many days
    without a flight it is said."""

    now: Moment
    monday: date
    usual_min: float
    least_min: int
    most_min: int
    step_min: int
    kept_min: float
    long_days: int
    aircraft: list[LaneOut]
    instructors: list[LaneOut]
    sorties: list[BookedSortie]
    taken: list[TakenOut]
    light: list[LightOut]
    until: list[UntilOut]


class TakenIn(Schema):
    """Of one person or of one aircraft."""

    person_id: Id | None = None
    aircraft_id: Id | None = None
    begins: Moment
    ends: Moment
    words: str = Field(max_length=120, pattern=SOMETHING)


class AwayOut(Schema):
    begins: Moment
    ends: Moment
    words: str
    left_out: str


class CalendarRead(Schema):
    """What a calendar's file says. stored: how many of it were taken over, null where it was only looked
    at."""

    of: str
    found: list[AwayOut]
    stored: int | None


class DateOut(Schema):
    """id: null for one that follows from something else (the parachutes' repack), which is changed there."""

    id: int | None
    person_id: int | None
    aircraft_id: int | None
    version: int
    date: Dated
    days_left: int


class DateIn(Schema):
    """Of one person or of one aircraft, which stays as it is when the date is changed."""

    version: Id = 1
    person_id: Id | None = None
    aircraft_id: Id | None = None
    what: str = Field(max_length=60, pattern=SOMETHING)
    until: date
    warn_days: int = Field(30, ge=0, le=400)
    stops: bool = True


class DatesOut(Schema):
    """may_change: whether the asker may. people, aircraft: whom a new one can be of."""

    now: Moment
    may_change: bool
    dates: list[DateOut]
    people: list[LaneOut]
    aircraft: list[LaneOut]
