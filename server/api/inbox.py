"""Recorders' files that are in no sortie yet: put there, offered to the sorties they fit, thrown away."""

from django.http import HttpRequest, HttpResponse
from ninja import Router, Status

from server import recordings
from server.api.doors import REFUSALS, a_file, asking
from server.api.heavy import when_recorded
from server.api.recording_schemas import WaitingOut
from server.api.recordings import A_FILE, bytes_sent, kept_file, laid_out, shown_name
from server.api.schemas import Id
from server.school.models import Waiting
from server.school.operations import inbox
from server.school.operations.recordings import remembered
from server.school.permissions import require_instructor
from server.workers import workers

router = Router(tags=["inbox"])


@router.get("/inbox", response={200: list[WaitingOut], **REFUSALS})
def waiting(request: HttpRequest) -> list[dict[str, object]]:
    """Recorders' files that are in no sortie yet."""
    return inbox.waiting(asking(request))


@router.post("/inbox", response={201: WaitingOut, **REFUSALS}, openapi_extra=A_FILE)
def put(request: HttpRequest, name: str = "") -> Status[dict[str, object]]:
    """The file's bytes as the body; a table is read as one with its names was before, or as it is guessed.
    Sent twice it waits once."""
    require_instructor(asking(request))
    content = bytes_sent(request, recordings.MOST_BYTES)
    layout = laid_out(content[: recordings.HEAD_BYTES])
    columns = None if layout is None else remembered(layout.headers)
    began, aircraft = workers.answer(request, when_recorded, content, columns)
    row = inbox.put(asking(request), shown_name(name), content, began, aircraft)
    return Status(201, inbox.shown(asking(request), row))


@router.get("/inbox/{waiting_id}/file", response=REFUSALS, openapi_extra=a_file("application/octet-stream"))
def waiting_file(request: HttpRequest, waiting_id: Id) -> HttpResponse:
    """As it came."""
    require_instructor(asking(request))
    return kept_file(Waiting.objects.filter(pk=waiting_id).first())


@router.post("/inbox/{waiting_id}/throw-away", response={200: list[WaitingOut], **REFUSALS})
def throw_away(request: HttpRequest, waiting_id: Id) -> list[dict[str, object]]:
    """Nobody's flight, or one that is of no use."""
    inbox.throw_away(asking(request), waiting_id)
    return waiting(request)
