"""Recorders' files: read into a sortie, shown, taken back, given out again as they came."""

from typing import Any

from django.http import HttpRequest, HttpResponse
from ninja import Router, Status

from keelturn.formats.reading import refused
from keelturn.formats.recorded import Trace
from server import clock, recordings
from server.api.doors import REFUSALS, Unseen, asking, require_seen, seen_sortie
from server.api.heavy import recording_read
from server.api.schemas import Id, RecordedOut
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


def _sent(request: HttpRequest) -> bytes:
    """The body as it came: what has a limit of its own is no form. Raises Refused."""
    content = request.read(recordings.MOST_BYTES + 1)
    if len(content) > recordings.MOST_BYTES:
        raise refused(
            "file", f"it has more than {recordings.MOST_BYTES // 1_000_000} MB", "Cut it to the flight."
        )
    return content


def _name(asked: str) -> str:
    """What of a file's name can be shown."""
    kept = "".join(letter for letter in asked if letter.isprintable()).strip()
    return kept[-NAME:] or "recording"


@router.post("/sorties/{sortie_id}/recordings", response={201: RecordedOut, **REFUSALS}, openapi_extra=A_FILE)
def add(request: HttpRequest, sortie_id: Id, name: str = "") -> Status[dict[str, object]]:
    """The file's bytes as the body. Sent twice it is there once."""
    asked = operations.to_read(asking(request), seen_sortie(request, sortie_id))
    content = _sent(request)
    device = operations.device_of(recordings.digest_of(content))
    made = workers.answer(request, recording_read, content, asked.plan, asked.conditions, device, clock.now())
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
