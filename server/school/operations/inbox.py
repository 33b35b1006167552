"""Recorders' files that are in no sortie yet, each offered to the sorties it fits."""

from datetime import datetime, timedelta
from functools import partial

from django.db import transaction

from keelturn.progress.stages import Act
from keelturn.recording.belonging import AFTER, BEFORE, fitting
from server import recordings
from server.school.models import Person, Recorded, Sortie, Waiting
from server.school.operations.recordings import of_flight, set_aside
from server.school.permissions import may, require_instructor, sorties_seen_by

# One that does not say when it was recorded is looked for in what was flown so long before it came.
LATELY = timedelta(hours=30)
# Sorties that are offered for one.
MOST_OFFERED = 4


def waiting(person: Person) -> list[dict[str, object]]:
    """Raises Denied."""
    require_instructor(person)
    return [shown(person, row) for row in Waiting.objects.select_related("by")]


def put(person: Person, name: str, content: bytes, began: datetime | None, aircraft: str) -> Waiting:
    """Sent twice it waits once. Raises Denied."""
    require_instructor(person)
    row, _ = Waiting.objects.get_or_create(
        digest=recordings.keep(content),
        defaults={
            "name": name,
            "size": len(content),
            "began": began,
            "aircraft": aircraft[:120],
            "by": person,
        },
    )
    return row


def put_from(person: Person, sortie_id: int, recording_id: int) -> None:
    """Taken out of a sortie: its numbers do not count there any more, and it waits for another. Raises
    Denied, and Refused where there is no such recording."""
    with transaction.atomic():
        set_aside(person, sortie_id, recording_id)
        row = Recorded.objects.get(pk=recording_id)
        began = datetime.fromisoformat(said) if (said := row.said.get("first_at")) else None
        Waiting.objects.get_or_create(
            digest=row.digest,
            defaults={
                "name": row.name,
                "size": row.size,
                "began": began,
                "aircraft": row.said.get("aircraft", "")[:120],
                "by": person,
            },
        )


def throw_away(person: Person, waiting_id: int) -> None:
    """With its bytes, unless a sortie has them too. Raises Denied."""
    require_instructor(person)
    with transaction.atomic():
        row = Waiting.objects.filter(pk=waiting_id).first()
        if row is None:
            return
        row.delete()
        if not Recorded.objects.filter(digest=row.digest).exists():
            transaction.on_commit(partial(recordings.drop, row.digest))


def shown(person: Person, row: Waiting) -> dict[str, object]:
    return {
        "id": row.pk,
        "name": row.name,
        "size": row.size,
        "began": row.began,
        "aircraft": row.aircraft,
        "by": row.by.name,
        "at": row.at,
        "fits": [_offered(sortie) for sortie in _fits(person, row)],
    }


def _offered(sortie: Sortie) -> dict[str, object]:
    return {
        "sortie_id": sortie.pk,
        "student": sortie.student.person.name,
        "planned_for": sortie.planned_for,
        "aircraft": sortie.aircraft.registration,
    }


def _fits(person: Person, row: Waiting) -> list[Sortie]:
    """Those that the person may note in, the likeliest first; none that has it already."""
    first, last = (row.at - LATELY, row.at) if row.began is None else (row.began - AFTER, row.began + BEFORE)
    have_it = Recorded.objects.filter(digest=row.digest, set_aside=False).values("sortie_id")
    near = sorties_seen_by(person).filter(planned_for__range=(first, last)).exclude(pk__in=have_it)
    into = {sortie.pk: sortie for sortie in near if may(person, sortie, Act.NOTE)}
    found = fitting(row.began, row.aircraft, map(of_flight, into.values()))
    return [into[flight.key] for flight in found[:MOST_OFFERED]]
