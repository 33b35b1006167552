"""What a person is told when something fails that nobody asked for: in words, as JSON to the interface."""

import sys

from django.db import OperationalError
from django.http import HttpRequest, HttpResponse, JsonResponse

from keelturn.formats.fields import place_in_words
from keelturn.formats.reading import Problem

# What SQLite calls it, what it means, what to do.
CAUSES = (
    ("locked", "the database is busy with somebody else's work", "Wait a moment and try again."),
    ("full", "the disk is full", "Have room made on it, then try again."),
    ("readonly", "the database can be read only", "Have its folder made writable, then try again."),
    ("unable to open", "the database cannot be opened", "Have its folder checked, then try again."),
    ("malformed", "the database is damaged", "Have it restored from a backup: docs/running.md says how."),
)


def words_of(error: OperationalError) -> Problem:
    """Nothing of the request was stored."""
    said = str(error)
    for part, what, do in CAUSES:
        if part in said:
            return Problem("storing", f"{what}; nothing was stored", do)
    return Problem("storing", f"the database does not answer ({said}); nothing was stored", "Try again.")


def failed(request: HttpRequest) -> HttpResponse:
    """Django's handler of last resort: called where the error is being handled."""
    error = sys.exc_info()[1]
    known = isinstance(error, OperationalError)
    problem = (
        words_of(error)
        if isinstance(error, OperationalError)
        else Problem(
            "server", "it failed, and the failure is in its log", "Try again; if it fails again, say so."
        )
    )
    status = 503 if known else 500
    if not request.path.startswith("/api/"):
        words = f"{problem.what[0].upper()}{problem.what[1:]}. {problem.do}"
        return HttpResponse(
            words, content_type="text/plain; charset=utf-8", status=status, headers=_again(known)
        )
    body = {"problems": [as_sent(problem)]}
    return JsonResponse(body, status=status, headers=_again(known))


def as_sent(problem: Problem) -> dict[str, str]:
    """With the place as it is called on the screen."""
    place = place_in_words(problem.where)
    return {"where": problem.where, "place": place, "what": problem.what, "do": problem.do}


def _again(known: bool) -> dict[str, str]:
    return {"Retry-After": "10"} if known else {}
