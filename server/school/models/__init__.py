"""What is stored, one file a subject."""

from server.school.models.accounts import CalendarKey, KeptMail, OpenSession
from server.school.models.courses import CourseVersion, Enrolment
from server.school.models.dates import DueDate, Statement, Taken
from server.school.models.fleet import Aircraft, Change, Place, School, SchoolNumbers, SchoolStandards
from server.school.models.kept import Kept
from server.school.models.lasting import ChainLink, Deed, DeedKind, Erased, Erasure
from server.school.models.people import GroundDone, Person, Student
from server.school.models.recordings import Recorded, Waiting
from server.school.models.sorties import (
    AttemptRow,
    BookingChange,
    BriefRead,
    Correction,
    EntryRow,
    Question,
    SheetRead,
    Signature,
    Sortie,
    StageChange,
)
from server.school.models.weather import WeatherRead

__all__ = [
    "Aircraft",
    "AttemptRow",
    "BookingChange",
    "BriefRead",
    "CalendarKey",
    "ChainLink",
    "Change",
    "Correction",
    "CourseVersion",
    "Deed",
    "DeedKind",
    "DueDate",
    "Enrolment",
    "EntryRow",
    "Erased",
    "Erasure",
    "GroundDone",
    "Kept",
    "KeptMail",
    "OpenSession",
    "Person",
    "Place",
    "Question",
    "SheetRead",
    "Recorded",
    "School",
    "SchoolNumbers",
    "SchoolStandards",
    "Signature",
    "Sortie",
    "StageChange",
    "Statement",
    "Student",
    "Taken",
    "Waiting",
    "WeatherRead",
]
