"""What the doors of recorders' files take and give."""

from pydantic import Field

from keelturn.document import Moment
from keelturn.formats.recorded import FigureFound, FlightRead
from keelturn.recording.cleaning import StepKey
from keelturn.recording.mapping import ColumnMap
from keelturn.recording.marking import MOST, Mark
from keelturn.recording.table import Column
from server.api.schema import Schema


class RecordedOut(Schema):
    """A recorder's file as it was read. digest: SHA-256 of the file. set_aside: its numbers do not count.
    doubts: why it may not be of this sortie, in sentences. outdated: plan, day, load or what was
    tapped in flight changed after it was read."""

    id: int
    name: str
    digest: str
    size: int
    set_aside: bool
    by: str
    at: Moment
    flight: FlightRead
    doubts: list[str]
    outdated: bool


class EarlierGo(Schema):
    """A recorded attempt of an earlier sortie, and what was found of it."""

    sortie_id: int
    attempt: str
    planned_for: Moment
    found: FigureFound


class Offered(Schema):
    """A sortie that a recording fits."""

    sortie_id: int
    student: str
    planned_for: Moment
    aircraft: str


class WaitingOut(Schema):
    """A recorder's file that is in no sortie yet. began, aircraft: as it says, null and empty where it does
    not. fits: the likeliest first."""

    id: int
    name: str
    size: int
    began: Moment | None
    aircraft: str
    by: str
    at: Moment
    fits: list[Offered]


class ReadAgain(Schema):
    """As the core's ReadRequest has them; columns stay as they were."""

    flight: int = Field(1, ge=1, le=1000)
    without: frozenset[StepKey] = frozenset()
    figures: tuple[Mark, ...] = Field((), max_length=MOST)


class ColumnChoice(Schema):
    """What a column of a table can hold, and the units that it can be written in."""

    column: Column
    label: str
    units: list[str]


class LookedAt(Schema):
    """A recorder's file before it is read. headers, rows: names and first rows of a table, as texts; columns:
    which is taken for what, null for a track. remembered: because one with these names was read so before.
    ready: nobody needs to look."""

    headers: list[str]
    rows: list[list[str]]
    columns: ColumnMap | None
    remembered: bool
    ready: bool
    choices: list[ColumnChoice]
