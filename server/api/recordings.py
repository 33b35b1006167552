"""Recorders' files: read into a sortie, shown, taken back, given out again as they came."""

import json
from typing import Any

from django.http import HttpRequest, HttpResponse
from ninja import Router, Status

from keelturn.document import Wrong
from keelturn.formats.reading import read_document, refusal_of, refused
from keelturn.formats.recorded import Debriefed, HowToRead, Trace
from keelturn.recording.delimited import Layout
from keelturn.recording.mapping import ColumnMap, tells_enough
from keelturn.recording.reading import look_at
from keelturn.recording.table import QUANTITIES
from server import clock, recordings
from server.api.bodies import require_keepable
from server.api.debriefing import look_ahead
from server.api.doors import REFUSALS, Unseen, a_file, asking, file_sent, require_seen, seen_sortie
from server.api.heavy import recording_read
from server.api.recording_schemas import ColumnChoice, EarlierGo, LookedAt, ReadAgain, RecordedOut
from server.api.schemas import Id
from server.school.models import Recorded, Waiting
from server.school.operations import inbox
from server.school.operations import recordings as operations
from server.school.operations.recordings import ToRead
from server.workers import workers

router = Router(tags=["recordings"])
NAME = 120
A_FILE: dict[str, Any] = {
    "requestBody": {
        "required": True,
        "content": {"application/octet-stream": {"schema": {"type": "string", "format": "binary"}}},
    }
}


def bytes_sent(request: HttpRequest, most: int) -> bytes:
    """The body as it came: what has a limit of its own is no form. Raises Refused."""
    content = request.read(most + 1)
    if len(content) > most:
        raise refused("file", f"it has more than {most / 1e6:g} MB", "Cut it to the flight.")
    return content


def _json(text: str) -> Any:
    try:
        found = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise refused("columns", "this is not JSON", "Send a column map, or leave it out.") from error
    require_keepable(found, "columns")
    return found


def shown_name(asked: str) -> str:
    """What of a file's name can be shown."""
    kept = "".join(letter for letter in asked if letter.isprintable()).strip()
    return kept[-NAME:] or "recording"


CHOICES = [
    ColumnChoice(column=column, label=quantity.label, units=list(quantity.units))
    for column, quantity in QUANTITIES.items()
]
# Rows that are shown of a table.
SHOWN = 5


def laid_out(head: bytes) -> Layout | None:
    """Raises Refused."""
    try:
        return look_at(head)
    except Wrong as wrong:
        raise refusal_of(wrong) from wrong


@router.post(
    "/sorties/{sortie_id}/recordings/look", response={200: LookedAt, **REFUSALS}, openapi_extra=A_FILE
)
def look(request: HttpRequest, sortie_id: Id) -> LookedAt:
    """The first lines of a file as the body: which column is taken for what."""
    operations.to_read(asking(request), seen_sortie(request, sortie_id))
    layout = laid_out(bytes_sent(request, recordings.HEAD_BYTES))
    if layout is None:
        return LookedAt(headers=[], rows=[], columns=None, remembered=False, ready=True, choices=[])
    guess, before = layout.guess(), operations.remembered(layout.headers)
    return LookedAt(
        headers=list(layout.headers),
        rows=[list(row) for row in layout.first[:SHOWN]],
        columns=before or guess,
        remembered=before is not None,
        ready=before is not None or tells_enough(guess.columns),
        choices=CHOICES,
    )


@router.post("/sorties/{sortie_id}/recordings", response={201: RecordedOut, **REFUSALS}, openapi_extra=A_FILE)
def add(request: HttpRequest, sortie_id: Id, name: str = "", columns: str = "") -> Status[dict[str, object]]:
    """The file's bytes as the body; columns: which is what, a ColumnMap as JSON, guessed where left out. Sent
    twice it is there once."""
    workers.require_room(request)
    asked = operations.to_read(asking(request), seen_sortie(request, sortie_id))
    columns_told = None if not columns else read_document(ColumnMap, _json(columns))
    how = HowToRead(columns_told, taps=asked.taps)
    content = bytes_sent(request, recordings.MOST_BYTES)
    device = operations.device_of(recordings.digest_of(content))
    to_read = (content, how, asked.plan, asked.conditions, device, clock.now())
    made = workers.answer(request, recording_read, *to_read)
    return Status(201, _added(request, sortie_id, shown_name(name), content, asked, made))


def _added(
    request: HttpRequest, sortie_id: int, name: str, content: bytes, asked: ToRead, made: Debriefed
) -> dict[str, object]:
    row = operations.add(asking(request), sortie_id, name, content, asked, made)
    look_ahead(seen_sortie(request, sortie_id), row)
    return operations.shown(row)


@router.get("/sorties/{sortie_id}/recordings", response={200: list[RecordedOut], **REFUSALS})
def of_sortie(request: HttpRequest, sortie_id: Id) -> list[dict[str, object]]:
    return operations.all_shown(seen_sortie(request, sortie_id))


@router.post("/sorties/{sortie_id}/recordings/{recording_id}/again", response={200: RecordedOut, **REFUSALS})
def again(request: HttpRequest, sortie_id: Id, recording_id: Id, data: ReadAgain) -> dict[str, object]:
    """The kept file read otherwise: another of its flights, without a step of cleaning, its figures as
    somebody marked them."""
    sortie = seen_sortie(request, sortie_id)
    asked = operations.to_read(asking(request), sortie)
    row = operations.the_one(sortie, recording_id)
    content = recordings.content_of(row.digest)
    if content is None:
        raise refused("file", "the file is not there any more as it came", "Read it in again.")
    before = operations.read_how(row)
    how = HowToRead(before.columns, data.flight, data.without, data.figures, asked.taps)
    device = operations.device_of(row.digest)
    made = workers.answer(
        request, recording_read, content, how, asked.plan, asked.conditions, device, clock.now()
    )
    return _added(request, sortie_id, row.name, content, asked, made)


@router.post(
    "/sorties/{sortie_id}/recordings/{recording_id}/elsewhere",
    response={200: list[RecordedOut], **REFUSALS},
)
def elsewhere(request: HttpRequest, sortie_id: Id, recording_id: Id) -> list[dict[str, object]]:
    """It is of another flight: its numbers are taken back, and it waits in the inbox."""
    require_seen(request, sortie_id)
    inbox.put_from(asking(request), sortie_id, recording_id)
    return of_sortie(request, sortie_id)


@router.post(
    "/sorties/{sortie_id}/recordings/{recording_id}/aside", response={200: list[RecordedOut], **REFUSALS}
)
def aside(request: HttpRequest, sortie_id: Id, recording_id: Id) -> list[dict[str, object]]:
    """Take its numbers back; the file stays."""
    require_seen(request, sortie_id)
    operations.set_aside(asking(request), sortie_id, recording_id)
    return of_sortie(request, sortie_id)


@router.get("/sorties/{sortie_id}/traces/{attempt}", response={200: Trace | None, **REFUSALS})
def trace(request: HttpRequest, sortie_id: Id, attempt: str) -> Trace | None:
    """Of an attempt, from the last recording that has it; null where none has."""
    return operations.trace_of(seen_sortie(request, sortie_id), attempt)


@router.get("/sorties/{sortie_id}/earlier/{attempt}", response={200: list[EarlierGo], **REFUSALS})
def earlier(request: HttpRequest, sortie_id: Id, attempt: str) -> list[dict[str, object]]:
    """Recorded goes of the same student at the same figure in earlier sorties, the latest first."""
    return operations.earlier(asking(request), seen_sortie(request, sortie_id), attempt)


@router.get(
    "/sorties/{sortie_id}/recordings/{recording_id}/file",
    response=REFUSALS,
    openapi_extra=a_file("application/octet-stream"),
)
def file(request: HttpRequest, sortie_id: Id, recording_id: Id) -> HttpResponse:
    """As it came."""
    return kept_file(Recorded.objects.filter(sortie=seen_sortie(request, sortie_id), pk=recording_id).first())


def kept_file(row: Recorded | Waiting | None) -> HttpResponse:
    """As it came. Raises Unseen."""
    content = None if row is None else recordings.content_of(row.digest)
    if row is None or content is None:
        raise Unseen("file")
    return file_sent(content, "application/octet-stream", f"recording-{row.digest[:12]}")
