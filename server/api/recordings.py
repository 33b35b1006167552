"""Recorders' files: read into a sortie, shown, taken back, given out again as they came."""

import json
from typing import Any

from django.http import HttpRequest, HttpResponse
from ninja import Router, Status

from keelturn.document import Wrong
from keelturn.formats.reading import read_document, refusal_of, refused
from keelturn.formats.recorded import HowToRead, Trace
from keelturn.recording.mapping import ColumnMap, tells_enough
from keelturn.recording.reading import look_at
from keelturn.recording.table import QUANTITIES
from server import clock, recordings
from server.api.bodies import require_keepable
from server.api.doors import REFUSALS, Unseen, asking, require_seen, seen_sortie
from server.api.heavy import recording_read
from server.api.recording_schemas import ColumnChoice, LookedAt, RecordedOut
from server.api.schemas import Id
from server.school.models import Recorded
from server.school.operations import recordings as operations
from server.workers import workers

router = Router(tags=["recordings"])
NAME = 120
A_FILE: dict[str, Any] = {
    "requestBody": {
        "required": True,
        "content": {"application/octet-stream": {"schema": {"type": "string", "format": "binary"}}},
    }
}


def _sent(request: HttpRequest, most: int) -> bytes:
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


def _name(asked: str) -> str:
    """What of a file's name can be shown."""
    kept = "".join(letter for letter in asked if letter.isprintable()).strip()
    return kept[-NAME:] or "recording"


CHOICES = [
    ColumnChoice(column=column, label=quantity.label, units=list(quantity.units))
    for column, quantity in QUANTITIES.items()
]
# Rows that are shown of a table.
SHOWN = 5


@router.post(
    "/sorties/{sortie_id}/recordings/look", response={200: LookedAt, **REFUSALS}, openapi_extra=A_FILE
)
def look(request: HttpRequest, sortie_id: Id) -> LookedAt:
    """The first lines of a file as the body: which column is taken for what."""
    operations.to_read(asking(request), seen_sortie(request, sortie_id))
    try:
        layout = look_at(_sent(request, recordings.HEAD_BYTES))
        guess = None if layout is None else layout.guess()
    except Wrong as wrong:
        raise refusal_of(wrong) from wrong
    if layout is None or guess is None:
        return LookedAt(headers=[], rows=[], columns=None, remembered=False, ready=True, choices=[])
    before = operations.remembered(layout.headers)
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
    asked = operations.to_read(asking(request), seen_sortie(request, sortie_id))
    how = HowToRead(None if not columns else read_document(ColumnMap, _json(columns)))
    content = _sent(request, recordings.MOST_BYTES)
    device = operations.device_of(recordings.digest_of(content))
    to_read = (content, how, asked.plan, asked.conditions, device, clock.now())
    made = workers.answer(request, recording_read, *to_read)
    return Status(
        201, operations.shown(operations.add(asking(request), sortie_id, _name(name), content, made))
    )


@router.get("/sorties/{sortie_id}/recordings", response={200: list[RecordedOut], **REFUSALS})
def of_sortie(request: HttpRequest, sortie_id: Id) -> list[dict[str, object]]:
    sortie = seen_sortie(request, sortie_id)
    return [operations.shown(row) for row in Recorded.objects.filter(sortie=sortie).select_related("by")]


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


@router.get(
    "/sorties/{sortie_id}/recordings/{recording_id}/file",
    response=REFUSALS,
    openapi_extra={
        "responses": {
            200: {
                "description": "The file as it came",
                "content": {"application/octet-stream": {"schema": {"type": "string", "format": "binary"}}},
            }
        }
    },
)
def file(request: HttpRequest, sortie_id: Id, recording_id: Id) -> HttpResponse:
    row = Recorded.objects.filter(sortie=seen_sortie(request, sortie_id), pk=recording_id).first()
    content = None if row is None else recordings.content_of(row.digest)
    if row is None or content is None:
        raise Unseen("file")
    answer = HttpResponse(content, content_type="application/octet-stream")
    answer.headers["Content-Disposition"] = f'attachment; filename="recording-{row.digest[:12]}"'
    return answer
