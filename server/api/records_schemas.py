"""What the API takes and gives of records that last: the chain, who did what, who was erased."""

from datetime import date

from pydantic import Field

from keelturn.document import Moment
from server.api.schema import Schema


class ErasedOut(Schema):
    """Somebody who was erased. kept: signed records that are still there, until that day."""

    person: int
    at: Moment
    by: str
    reason: str
    kept_until: date | None
    kept: int


class RecordsOut(Schema):
    """links, ends_in: how many links the chain has, and the digest of the last. checked_at: when somebody
    followed the whole of it last, and found that all holds."""

    links: int
    ends_in: str
    signed: int
    corrections: int
    checked_at: Moment | None
    checked_by: str
    erased: list[ErasedOut]


class CheckIn(Schema):
    after: int = Field(default=0, ge=0, le=2**31)


class CheckOut(Schema):
    """to: the last link that was looked at, of so many; faults: what does not hold, in words, the first place
    first."""

    to: int
    of: int
    ends_in: str
    faults: list[str]


class DoneOut(Schema):
    """Who did what; name: what the subject is called; to: where it is found on the page, empty where
    nowhere."""

    at: Moment
    by: str
    what: str
    name: str
    to: str
    words: str


class WhoOut(Schema):
    id: int
    name: str


class SourceOut(Schema):
    key: str
    label: str


class AuditOut(Schema):
    """next: what to ask with for the lines behind these; empty at the end."""

    lines: list[DoneOut]
    next: str
    people: list[WhoOut]
    sources: list[SourceOut]


class WouldGoOut(Schema):
    name: str
    open_sorties: int
    signed: int
    recordings: int
    others: int


class EraseIn(Schema):
    """kept_until: signed records stay until then; null: they go now."""

    reason: str = Field(min_length=3, max_length=300, pattern=r"^\s*\S.*\S\s*$")
    kept_until: date | None = None
    password: str = Field(max_length=200)
