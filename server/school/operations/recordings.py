"""A recorder's file read into a sortie: its numbers are entries of the recorder's own beside those of the
taps, and can be taken back again."""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import islice

from django.db import transaction
from pydantic import TypeAdapter

from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.formats.kept import filled
from keelturn.formats.reading import Refused, Unreadable, refused
from keelturn.formats.recorded import Debriefed, FigureFound, FlightRead, HowToRead, Trace
from keelturn.noting.entry import Entry, Value, What
from keelturn.progress.stages import Act
from keelturn.recording.belonging import OfFlight, doubts
from keelturn.recording.mapping import ColumnMap
from keelturn.recording.taps import TappedGo, tapped_goes
from server import clock, recordings
from server.school.models import EntryRow, Person, Recorded, Sortie, Waiting
from server.school.operations.computing import conditions_for, entries_kept, plan_of
from server.school.operations.noting import take_entries
from server.school.permissions import Denied, may, require_edit, sorties_seen_by, with_people

SAID, TRACES, TRACE = TypeAdapter(FlightRead), TypeAdapter(dict[str, Trace]), TypeAdapter(Trace)
# Of the digest, what the entries of a recording call their device.
SHORT = 12


@dataclass(frozen=True)
class ToRead:
    """What the core has to know to read a recording for a sortie."""

    plan: tuple[PlannedFigure, ...]
    conditions: Conditions
    taps: tuple[TappedGo, ...]

    @property
    def digest(self) -> str:
        """Of all that heights and names of a recording follow from besides the file."""
        on = self.conditions
        place, day = on.place.elevation_ft, (on.day.pressure_hpa, on.day.air_c)
        said = (self.plan, self.taps, on.card.model_dump_json(), on.weight_lb, day, place)
        return recordings.digest_of(repr(said).encode())


def to_read(person: Person, sortie: Sortie) -> ToRead:
    """Before seconds are spent on it. Raises Denied, Refused, Unreadable."""
    _require(person, sortie)
    return now_to_read(sortie)


def now_to_read(sortie: Sortie) -> ToRead:
    """Raises Refused, Unreadable."""
    plan = plan_of(sortie)
    return ToRead(plan.figures, conditions_for(sortie, plan), tapped_goes(entries_kept(sortie)))


def _require(person: Person, sortie: Sortie) -> None:
    require_edit(person, sortie)
    if not may(person, sortie, Act.NOTE):
        raise Denied(
            "this sortie is not briefed: nothing was flown in it yet", "Brief it, then add what was flown."
        )


def device_of(digest: str) -> str:
    return f"recording-{digest[:SHORT]}"


def add(
    person: Person, sortie_id: int, name: str, content: bytes, asked: ToRead, made: Debriefed
) -> Recorded:
    """The same file again is there once; read otherwise, what it says now is in the place of what it said,
    and it counts again where it had been set aside. Raises Denied."""
    digest = recordings.keep(content)
    said = {
        "said": SAID.dump_python(made.flight, mode="json"),
        "traces": TRACES.dump_python(made.traces, mode="json"),
        "set_aside": False,
        "read_for": asked.digest,
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
        Waiting.objects.filter(digest=digest).delete()
    return row


def the_one(sortie: Sortie, recording_id: int) -> Recorded:
    """Raises Refused where there is no such recording."""
    row = Recorded.objects.filter(sortie=sortie, pk=recording_id).first()
    if row is None:
        raise refused("recording", "there is no such recording of this sortie", "Choose one that there is.")
    return row


def set_aside(person: Person, sortie_id: int, recording_id: int) -> None:
    """Its numbers are taken back, on the record; the file stays. Raises Denied, and Refused where there is no
    such recording."""
    with transaction.atomic():
        sortie = with_people(Sortie.objects.all()).get(pk=sortie_id)
        _require(person, sortie)
        row = the_one(sortie, recording_id)
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
    return None if row is None else _said(row).columns


def _said(row: Recorded) -> FlightRead:
    """What was kept of it, in today's shape."""
    read: FlightRead = filled(FlightRead, row.said)
    return read


def of_flight(sortie: Sortie) -> OfFlight:
    return OfFlight(sortie.pk, sortie.planned_for, sortie.aircraft.registration)


def all_shown(sortie: Sortie) -> list[dict[str, object]]:
    """Every recording of it, in the order in which they came."""
    rows = list(Recorded.objects.filter(sortie=sortie).select_related("by"))
    now = _read_for_now(sortie) if rows else None
    for row in rows:
        row.sortie = sortie
    return [_shown(row, now) for row in rows]


def shown(row: Recorded) -> dict[str, object]:
    return _shown(row, _read_for_now(row.sortie))


def _shown(row: Recorded, now: str | None) -> dict[str, object]:
    """now: what it would be read for today."""
    flight = _said(row)
    return {
        "id": row.pk,
        "name": row.name,
        "digest": row.digest,
        "size": row.size,
        "set_aside": row.set_aside,
        "by": row.by.name,
        "at": row.at,
        "flight": flight,
        "doubts": doubts(flight.first_at, flight.aircraft, of_flight(row.sortie)),
        "outdated": row.sortie.stage != "signed" and row.read_for not in (None, now),
    }


def _read_for_now(sortie: Sortie) -> str | None:
    """None for what is not read again, and where it cannot be."""
    try:
        return None if sortie.stage == "signed" else now_to_read(sortie).digest
    except (Refused, Unreadable):
        return None


def last_with(sortie: Sortie, attempt: str) -> Recorded | None:
    """The last recording that has this attempt and counts; None where there is none."""
    counting = Recorded.objects.filter(sortie=sortie, set_aside=False).order_by("-pk")
    return next((row for row in counting if attempt in row.traces), None)


def trace_of(sortie: Sortie, attempt: str) -> Trace | None:
    row = last_with(sortie, attempt)
    return None if row is None else TRACE.validate_python(row.traces[attempt])


def read_how(row: Recorded) -> HowToRead:
    """As it was read when it came in."""
    said = _said(row)
    return HowToRead(said.columns, said.flight, frozenset(said.without), said.marks, said.taps)


# Earlier goes at a figure that one may be set against.
MOST_EARLIER = 6


def earlier(person: Person, sortie: Sortie, attempt: str) -> list[dict[str, object]]:
    """The recorded goes of the same student at the same figure, to the same side, in earlier sorties that the
    person may see: the latest first."""
    row = last_with(sortie, attempt)
    mine = None if row is None else _found_in(row, attempt)
    if mine is None:
        return []
    before = sorties_seen_by(person).filter(student=sortie.student_id, planned_for__lt=sortie.planned_for)
    rows = Recorded.objects.filter(sortie__in=before, set_aside=False).select_related("sortie")
    goes = (
        {
            "sortie_id": one.sortie_id,
            "attempt": found.attempt,
            "planned_for": one.sortie.planned_for,
            "found": found,
        }
        for one in rows.defer("traces").order_by("-sortie__planned_for", "-pk")
        for found in _said(one).figures
        if (found.key, found.side) == (mine.key, mine.side)
    )
    return list(islice(goes, MOST_EARLIER))


def _found_in(row: Recorded, attempt: str) -> FigureFound | None:
    return next((found for found in _said(row).figures if found.attempt == attempt), None)
