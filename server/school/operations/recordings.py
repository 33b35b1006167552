"""A recorder's file read into a sortie: its numbers are entries of the recorder's own beside those of the
taps, and can be taken back again."""

from dataclasses import dataclass

from django.db import transaction
from pydantic import TypeAdapter

from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.formats.reading import refused
from keelturn.formats.recorded import Debriefed, FlightRead, Trace
from keelturn.noting.entry import Entry
from keelturn.progress.stages import Act
from server import clock, recordings
from server.school.models import EntryRow, Person, Recorded, Sortie
from server.school.operations.computing import conditions_for, plan_of
from server.school.operations.noting import take_entries
from server.school.permissions import Denied, may, require_edit, with_people

SAID, TRACES, TRACE = TypeAdapter(FlightRead), TypeAdapter(dict[str, Trace]), TypeAdapter(Trace)
# Of the digest, what the entries of a recording call their device.
SHORT = 12


@dataclass(frozen=True)
class ToRead:
    """What the core has to know to read a recording for a sortie."""

    plan: tuple[PlannedFigure, ...]
    conditions: Conditions


def to_read(person: Person, sortie: Sortie) -> ToRead:
    """Before seconds are spent on it. Raises Denied, Refused, Unreadable."""
    _require(person, sortie)
    plan = plan_of(sortie)
    return ToRead(plan.figures, conditions_for(sortie, plan))


def _require(person: Person, sortie: Sortie) -> None:
    require_edit(person, sortie)
    if not may(person, sortie, Act.NOTE):
        raise Denied(
            "this sortie is not briefed: nothing was flown in it yet", "Brief it, then add what was flown."
        )


def device_of(digest: str) -> str:
    return f"recording-{digest[:SHORT]}"


def add(person: Person, sortie_id: int, name: str, content: bytes, made: Debriefed) -> Recorded:
    """The same file again is there once, and counts again where it had been set aside. Raises Denied."""
    digest = recordings.keep(content)
    with transaction.atomic():
        sortie = with_people(Sortie.objects.all()).get(pk=sortie_id)
        _require(person, sortie)
        row, fresh = Recorded.objects.get_or_create(
            sortie=sortie,
            digest=digest,
            defaults={
                "name": name,
                "size": len(content),
                "said": SAID.dump_python(made.flight, mode="json"),
                "traces": TRACES.dump_python(made.traces, mode="json"),
                "by": person,
            },
        )
        if fresh:
            take_entries(person, sortie_id, made.entries)
        elif row.set_aside:
            take_entries(person, sortie_id, _again(sortie, row))
            row.set_aside = False
            row.save(update_fields=["set_aside"])
    return row


def set_aside(person: Person, sortie_id: int, recording_id: int) -> None:
    """Its numbers are taken back, on the record; the file stays. Raises Denied, and Refused where there is no
    such recording."""
    with transaction.atomic():
        sortie = with_people(Sortie.objects.all()).get(pk=sortie_id)
        _require(person, sortie)
        row = _row(sortie, recording_id)
        if row.set_aside:
            return
        taken_back = [_follows(entry, None) for entry in _standing(sortie, row) if entry.value is not None]
        take_entries(person, sortie_id, taken_back)
        row.set_aside = True
        row.save(update_fields=["set_aside"])


def _row(sortie: Sortie, recording_id: int) -> Recorded:
    row = Recorded.objects.filter(sortie=sortie, pk=recording_id).first()
    if row is None:
        raise refused("recording", "there is no such recording of this sortie", "Choose one that there is.")
    return row


def _of(sortie: Sortie, row: Recorded) -> list[Entry]:
    """All that this recording ever said, in its order."""
    kept = EntryRow.objects.filter(sortie=sortie, entry__device=device_of(row.digest))
    return [Entry.model_validate(one.entry) for one in kept]


def _standing(sortie: Sortie, row: Recorded) -> list[Entry]:
    """What stands of it: nothing of its own came after."""
    entries = _of(sortie, row)
    replaced = {name for entry in entries for name in entry.replaces}
    return [entry for entry in entries if entry.id not in replaced]


def _again(sortie: Sortie, row: Recorded) -> list[Entry]:
    """What it said at first, in place of its having been taken back."""
    entries = _of(sortie, row)
    said = {entry.place: entry.value for entry in reversed(entries) if entry.value is not None}
    return [_follows(entry, said[entry.place]) for entry in _standing(sortie, row) if entry.place in said]


def _follows(entry: Entry, value: object) -> Entry:
    return entry.model_copy(
        update={
            "id": f"{entry.id[:30]}-{_count(entry.id) + 1}",
            "value": value,
            "replaces": (entry.id,),
            "at": clock.now(),
        }
    )


def _count(name: str) -> int:
    """How often it has been taken back or said again."""
    parts = name.rsplit("-", 1)
    return int(parts[1]) if len(name) < 36 and parts[1].isdigit() else 0


def shown(row: Recorded) -> dict[str, object]:
    return {
        "id": row.pk,
        "name": row.name,
        "digest": row.digest,
        "size": row.size,
        "set_aside": row.set_aside,
        "by": row.by.name,
        "at": row.at,
        "flight": SAID.validate_python(row.said),
    }


def trace_of(sortie: Sortie, attempt: str) -> Trace | None:
    """Of the last recording that has this attempt and counts; None where there is none."""
    for row in Recorded.objects.filter(sortie=sortie, set_aside=False).order_by("-pk"):
        if attempt in row.traces:
            return TRACE.validate_python(row.traces[attempt])
    return None
