"""What the doors of recorders' files take and give."""

from ninja import Schema

from keelturn.document import Moment
from keelturn.formats.recorded import FlightRead
from keelturn.recording.mapping import ColumnMap
from keelturn.recording.table import Column


class RecordedOut(Schema):
    """A recorder's file as it was read. digest: SHA-256 of the file. set_aside: its numbers do not count."""

    id: int
    name: str
    digest: str
    size: int
    set_aside: bool
    by: str
    at: Moment
    flight: FlightRead


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
