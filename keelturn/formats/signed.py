"""What a signature covers, and reading it for ever: the record of a sortie, all that is shown of it.

An open sortie is shown as such a record made from what is stored; a signed one as the record that was signed,
and from nothing else. Versions: docs/formats.md; a document of each stands in tests/records."""

import json
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, fields
from functools import cache
from typing import Any, Literal

from pydantic import TypeAdapter, ValidationError
from pydantic_core import SchemaValidator, from_json

from keelturn.aircraft.card import Card
from keelturn.assess.loss import LossAccount
from keelturn.assess.second_look import SecondLook
from keelturn.document import Moment
from keelturn.figures.figure import Stage as StudentStage
from keelturn.flying.deviations import OwnLoss
from keelturn.formats.at_once import reader_of
from keelturn.formats.kept import filled
from keelturn.formats.signed_before import from_version_1, from_version_2
from keelturn.noting.attempt import Attempt
from keelturn.noting.entry import Entry
from keelturn.plan.briefing import Brief, BriefItem, BriefPage
from keelturn.plan.document import PlanDocument
from keelturn.plan.sequence import PlanAnswer
from keelturn.progress.stages import Debrief
from keelturn.school.before import Missing
from keelturn.school.dates import Dated
from keelturn.school.place import Place
from keelturn.school.standards import Standards
from keelturn.working import OF_THE_WORKING

VERSION = 3
Booked = Literal["time", "length", "instructor", "aircraft", "place", "cancelled"]


@dataclass(frozen=True, slots=True)
class Asked:
    """A question of the student's, and its answer. figure: the id of the one it is about, or empty."""

    id: int
    by: str
    at: Moment
    figure: str
    text: str
    answer: str = ""
    answered_by: str | None = None


@dataclass(frozen=True, slots=True)
class StageChanged:
    stage: str
    by: str
    at: Moment


@dataclass(frozen=True, slots=True)
class Rebooked:
    """A change of when, with whom, in what or where it is flown, or whether at all. Before and after in
    words, a time as ISO 8601; of a cancelled sortie the reason, of one that is not nothing."""

    what: Booked
    before: str
    after: str
    by: str
    at: Moment


@dataclass(frozen=True, slots=True)
class BriefWasRead:
    """current: nothing of the plan has changed since."""

    at: Moment
    current: bool


@dataclass(frozen=True, slots=True)
class RecordingKept:
    """A recorder's file that was read into the sortie: its name, SHA-256 digest and size in bytes; set_aside:
    its numbers were taken back."""

    name: str
    digest: str
    size: int
    set_aside: bool
    by: str
    at: Moment


@dataclass(frozen=True, slots=True)
class Record:
    """One sortie as it is shown: who, what, where, the sheets, what they were computed from and every
    computed number with its working. aircraft: its registration. accounts: by the attempt's id. entries:
    what the attempts add up from, none where an older record kept none. parachute_days: since the repack,
    null where none are kept. looks: by the attempt's id, as they were when it was signed. own: what the
    student loses against the population, by the figure's key, none where an older record kept none. dates:
    those of the people and the aircraft when it was flown. before: what should have come before its lesson
    and had not. The ids are those of the rows, 0 where an older record kept none."""

    sortie: int
    student: str
    student_stage: StudentStage
    instructor: str
    planned_for: Moment
    lesson: str
    lesson_name: str
    aircraft: str
    card: Card
    parachute_days: float | None
    place: Place
    standards: Standards
    plan: PlanDocument
    brief: Brief
    brief_items: tuple[BriefItem, ...]
    brief_pages: tuple[BriefPage, ...]
    read: BriefWasRead | None
    questions: tuple[Asked, ...]
    attempts: tuple[Attempt, ...]
    debrief: Debrief
    stage_changes: tuple[StageChanged, ...]
    earlier_faults: dict[str, list[str]]
    answer: PlanAnswer
    accounts: dict[str, LossAccount]
    signed_by: str | None = None
    signed_at: Moment | None = None
    student_id: int = 0
    instructor_id: int = 0
    aircraft_id: int = 0
    place_id: int = 0
    rebooked: tuple[Rebooked, ...] = ()
    entries: tuple[Entry, ...] = ()
    looks: dict[str, SecondLook] = field(default_factory=dict)
    recordings: tuple[RecordingKept, ...] = ()
    own: dict[str, OwnLoss] = field(default_factory=dict)
    dates: tuple[Dated, ...] = ()
    before: tuple[Missing, ...] = ()
    format: Literal["keelturn-signed-sortie"] = "keelturn-signed-sortie"
    version: Literal[3] = 3

    @property
    def cancelled(self) -> str:
        """Why it is not flown; nothing while it is."""
        return next((c.after for c in reversed(self.rebooked) if c.what == "cancelled"), "")


RECORD = TypeAdapter(Record)
BEFORE: Mapping[int, Callable[[dict[str, Any]], dict[str, Any]]] = {1: from_version_1, 2: from_version_2}


def written(record: Record) -> str:
    """The record as one line of canonical JSON: what a digest is made of."""
    return json.dumps(
        RECORD.dump_python(record, mode="json"), sort_keys=True, ensure_ascii=False, separators=(",", ":")
    )


@dataclass(frozen=True, slots=True)
class Read:
    """A signed document read: the record, the version it was written in, and what it had at the top."""

    record: Record
    version: int
    names: frozenset[str]


@cache
def _reader(working: bool) -> SchemaValidator:
    return reader_of(Record, working)


def ready_to_read() -> None:
    """The first record would wait for it."""
    for working in (True, False):
        _reader(working)


def read_signed(document: str, working: bool = True) -> Read:
    """The record as it was signed; its numbers without their working where that is not asked for, which
    takes a third of the time. Raises ValueError for a version that is not known, and for what is not JSON."""
    try:
        record: Record = _reader(working).validate_json(document)
    except ValidationError:
        return _filled_in(from_json(document), working)
    return Read(record, VERSION, frozenset(field.name for field in fields(Record)))


def _filled_in(document: dict[str, Any], working: bool) -> Read:
    """Of an older shape."""
    found = document
    while found.get("version") != VERSION:
        version = found.get("version")
        if not isinstance(version, int) or version not in BEFORE:
            raise ValueError(f"a signed sortie of version {version} is not known here")
        found = {**BEFORE[version](found), "version": version + 1}
    record = filled(Record, found if working else _without_working(found))
    return Read(record, document["version"], frozenset(document))


def _without_working(part: Any) -> Any:
    if isinstance(part, list):
        return [_without_working(one) for one in part]
    if not isinstance(part, dict):
        return part
    if "shown" in part and "formula" in part:
        return {name: value for name, value in part.items() if name not in OF_THE_WORKING}
    return {name: _without_working(value) for name, value in part.items()}
