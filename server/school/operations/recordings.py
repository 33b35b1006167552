"""A recorder's file read into a sortie: its numbers are entries of the recorder's own beside those of the
taps, and can be taken back again."""

from collections.abc import Sequence
from dataclasses import dataclass

from django.db import transaction
from pydantic import TypeAdapter

from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.formats.reading import refused
from keelturn.formats.recorded import Debriefed, FlightRead, Trace
from keelturn.noting.entry import Entry, Value, What
from keelturn.progress.stages import Act
from keelturn.recording.mapping import ColumnMap
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
    """The same file again is there once; read otherwise, what it says now is in the place of what it said,
    and it counts again where it had been set aside. Raises Denied."""
    digest = recordings.keep(content)
    said = {
        "said": SAID.dump_python(made.flight, mode="json"),
        "traces": TRACES.dump_python(made.traces, mode="json"),
        "set_aside": False,
    }
    with transaction.atomic():
        sortie = with_people(Sortie.objects.all()).get(pk=sortie_id)
        _require(person, sortie)
        row, _ = Recorded.objects.update_or_create(
            sortie=sortie,
            digest=digest,
            defaults=said,
            create_defaults={
                **said,
                "name": name,
                "size": len(content),
                "layout": layout_digest(made.headers),
                "by": person,
            },
        )
        _say(person, sortie, row, {entry.place: entry for entry in made.entries})
    return row


def set_aside(person: Person, sortie_id: int, recording_id: int) -> None:
    """Its numbers are taken back, on the record; the file stays. Raises Denied, and Refused where there is no
    such recording."""
    with transaction.atomic():
        sortie = with_people(Sortie.objects.all()).get(pk=sortie_id)
        _require(person, sortie)
        row = Recorded.objects.filter(sortie=sortie, pk=recording_id).first()
        if row is None:
            raise refused(
                "recording", "there is no such recording of this sortie", "Choose one that there is."
            )
        _say(person, sortie, row, {})
        row.set_aside = True
        row.save(update_fields=["set_aside"])


def _say(person: Person, sortie: Sortie, row: Recorded, wanted: dict[tuple[str, What, str], Entry]) -> None:
    """Entries after which it says this and nothing else: each in the place of what it said there before."""
    standing = {entry.place: entry for entry in _standing(sortie, row)}
    fresh = [entry for place, entry in wanted.items() if place not in standing]
    changed = [
        _follows(entry, value)
        for place, entry in standing.items()
        if (value := wanted[place].value if place in wanted else None) != entry.value
    ]
    take_entries(person, sortie.pk, [*fresh, *changed])


def _standing(sortie: Sortie, row: Recorded) -> list[Entry]:
    """What of it nothing of its own came after."""
    kept = EntryRow.objects.filter(sortie=sortie, entry__device=device_of(row.digest))
    entries = [Entry.model_validate(one.entry) for one in kept]
    replaced = {name for entry in entries for name in entry.replaces}
    return [entry for entry in entries if entry.id not in replaced]


def _follows(entry: Entry, value: Value) -> Entry:
    """The same said otherwise: its name is the first one's, and how manieth it is."""
    first, _, count = entry.id.partition("~")
    name = f"{first}~{int(count or 0) + 1}"
    return entry.model_copy(update={"id": name, "value": value, "replaces": (entry.id,), "at": clock.now()})


def layout_digest(headers: Sequence[str]) -> str:
    """Empty for what is no table."""
    return recordings.digest_of("\n".join(headers).encode()) if headers else ""


def remembered(headers: Sequence[str]) -> ColumnMap | None:
    """How a table with these names was read the last time, in any sortie."""
    row = Recorded.objects.filter(layout=layout_digest(headers)).order_by("-pk").first() if headers else None
    return None if row is None else SAID.validate_python(row.said).columns


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
