"""What the doors have in common: who is asking, what they may see, and the answers that any door can give."""

from typing import Any

from django.http import Http404, HttpRequest, HttpResponse

from server.api.schemas import Problems
from server.school.models import Person, Sortie, Student
from server.school.permissions import sorties_seen_by, students_seen_by

# Answers that any door may give, besides its own.
REFUSALS: dict[int, Any] = dict.fromkeys((400, 401, 403, 404, 413, 422, 429, 503), Problems)


class Unseen(Http404):
    """Not there, or not for this person to see: the same answer to both, so that nobody learns which."""

    def __init__(self, what: str = "thing here") -> None:
        super().__init__(f"there is no such {what}, or it is not yours to see")


def as_json(answer: bytes, status: int = 200) -> HttpResponse:
    return HttpResponse(answer, content_type="application/json; charset=utf-8", status=status)


def asking(request: HttpRequest) -> Person:
    person = request.user
    assert isinstance(person, Person)
    return person


def seen_sortie(request: HttpRequest, sortie_id: int, *with_its: str) -> Sortie:
    """with_its: what else is read with it. Raises Unseen."""
    seen = sorties_seen_by(asking(request)).filter(pk=sortie_id)
    found = (seen.select_related(*with_its) if with_its else seen).first()
    if found is None:
        raise Unseen("sortie")
    return found


def seen_draft(request: HttpRequest, sortie_id: int) -> Sortie:
    """What computing a draft of it needs, and no more: this is asked for as the hand moves. Raises Unseen."""
    seen = sorties_seen_by(asking(request)).filter(pk=sortie_id)
    needed = seen.select_related(None).select_related("student", "aircraft", "place")
    found = needed.defer("brief", "debrief", "aircraft__card", "place__place").first()
    if found is None:
        raise Unseen("sortie")
    return found


def require_seen(request: HttpRequest, sortie_id: int) -> None:
    """Before it is read anew to be changed. Raises Unseen."""
    if not sorties_seen_by(asking(request)).filter(pk=sortie_id).exists():
        raise Unseen("sortie")


def seen_student(request: HttpRequest, student_id: int) -> Student:
    """Raises Unseen."""
    found = students_seen_by(asking(request)).filter(pk=student_id).first()
    if found is None:
        raise Unseen("student")
    return found


def a_file(kind: str) -> dict[str, Any]:
    """How such an answer is described."""
    content = {kind: {"schema": {"type": "string", "format": "binary"}}}
    return {"responses": {200: {"description": "The file", "content": content}}}


def file_sent(content: bytes, kind: str, name: str) -> HttpResponse:
    return HttpResponse(
        content, content_type=kind, headers={"Content-Disposition": f'attachment; filename="{name}"'}
    )
