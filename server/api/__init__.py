"""The API: thin doors to the operations. Every door needs a session unless it says otherwise."""

from typing import Any

from django.core.exceptions import ObjectDoesNotExist
from django.db import OperationalError
from django.http import Http404, HttpRequest, HttpResponse
from ninja import NinjaAPI
from ninja.errors import AuthenticationError, HttpError, ValidationError, ValidationErrorContext
from ninja.security import django_auth

from keelturn.formats.reading import Problem, Refused, problems_of_detail
from server.api import (
    accounts,
    catalogue,
    courses,
    debriefing,
    figures,
    fleet,
    inbox,
    people,
    planning,
    recordings,
    records,
    requirements,
    school,
    session,
    sorties,
    students,
    week,
)
from server.api.bodies import Bodies, BodyUnread
from server.api.doors import Unseen
from server.errors import as_sent, words_of
from server.school.operations.sorties import Overtaken
from server.school.permissions import Denied
from server.workers import LONGEST_S, Crowded, NobodyWaits, TookTooLong


class KeelTurnAPI(NinjaAPI):
    """Bad requests are refused by the core's own reader, which shows the value that was wrong."""

    def validation_error_from_error_contexts(
        self, error_contexts: list[ValidationErrorContext[Any]]
    ) -> ValidationError:
        found: list[dict[str, Any]] = []
        for context in error_contexts:
            for detail in context.pydantic_validation_error.errors(include_url=False):
                # A place starts with the parameter's own name ("data", ...): the sender does not know it.
                found.append({**detail, "loc": detail["loc"][1:] or detail["loc"]})
        return ValidationError(found)


api = KeelTurnAPI(
    title="Keel Turn",
    version="1",
    auth=django_auth,
    docs_url=None,
    urls_namespace="api",
    parser=Bodies(),
)
api.add_router("/session", session.router)
api.add_router("/", planning.router)
api.add_router("/", sorties.router)
api.add_router("/", recordings.router)
api.add_router("/", inbox.router)
api.add_router("/", debriefing.router)
api.add_router("/", students.router)
api.add_router("/", courses.router)
api.add_router("/", school.router)
api.add_router("/", records.router)
api.add_router("/", people.router)
api.add_router("/", accounts.router)
api.add_router("/", fleet.router)
api.add_router("/", catalogue.router)
api.add_router("/", figures.router)
api.add_router("/", week.router)
api.add_router("/", requirements.router)


def _problems(request: HttpRequest, problems: list[Problem], status: int) -> HttpResponse:
    body: dict[str, Any] = {"problems": [as_sent(problem) for problem in problems]}
    return api.create_response(request, body, status=status)


@api.exception_handler(Refused)
def refused(request: HttpRequest, error: Refused) -> HttpResponse:
    return _problems(request, error.problems, 422)


@api.exception_handler(HttpError)
def not_taken(request: HttpRequest, error: HttpError) -> HttpResponse:
    """What the framework refuses by itself, and what it wraps: a body that was refused while it was read."""
    if isinstance(error.__cause__, Refused):
        return _problems(
            request, error.__cause__.problems, 400 if isinstance(error.__cause__, BodyUnread) else 422
        )
    return _problems(
        request, [Problem("request", str(error), "Send it as the API is described.")], error.status_code
    )


@api.exception_handler(ValidationError)
def not_valid(request: HttpRequest, error: ValidationError) -> HttpResponse:
    found = [problem for detail in error.errors for problem in problems_of_detail(detail)]
    return _problems(request, found, 422)


@api.exception_handler(Denied)
def denied(request: HttpRequest, error: Denied) -> HttpResponse:
    return _problems(request, [Problem("access", error.what, error.do)], 403)


@api.exception_handler(AuthenticationError)
def signed_out(request: HttpRequest, error: AuthenticationError) -> HttpResponse:
    return _problems(request, [Problem("session", "you are not logged in", "Log in and try again.")], 401)


@api.exception_handler(Http404)
def not_there(request: HttpRequest, error: Http404) -> HttpResponse:
    unseen = error if isinstance(error, Unseen) else Unseen()
    return _problems(request, [Problem("address", str(unseen), "Go back to the list and choose again.")], 404)


@api.exception_handler(ObjectDoesNotExist)
def gone(request: HttpRequest, error: ObjectDoesNotExist) -> HttpResponse:
    """Thrown away between the question and the answer."""
    return not_there(request, Unseen())


@api.exception_handler(OperationalError)
def not_stored(request: HttpRequest, error: OperationalError) -> HttpResponse:
    """The disk or the database does not take it now."""
    response = _problems(request, [words_of(error)], 503)
    response["Retry-After"] = "10"
    return response


@api.exception_handler(Crowded)
def crowded(request: HttpRequest, error: Crowded) -> HttpResponse:
    response = _problems(request, [Problem("server", error.what, "Wait a little and ask again.")], 429)
    response["Retry-After"] = str(error.again_s)
    return response


@api.exception_handler(TookTooLong)
def took_too_long(request: HttpRequest, error: TookTooLong) -> HttpResponse:
    what = f"it took longer than {LONGEST_S:.0f} seconds and was stopped"
    response = _problems(request, [Problem("server", what, "Ask with fewer figures.")], 503)
    response["Retry-After"] = "30"
    return response


@api.exception_handler(NobodyWaits)
def nobody_waits(request: HttpRequest, error: NobodyWaits) -> HttpResponse:
    """Written to nobody: the one who asked has gone."""
    return HttpResponse(status=204)


@api.exception_handler(Overtaken)
def overtaken(request: HttpRequest, error: Overtaken) -> HttpResponse:
    body = {
        "by": error.by,
        "at": error.at.isoformat(),
        "version": error.version,
        "differences": [vars(d) for d in error.differences],
    }
    return api.create_response(request, body, status=409)
