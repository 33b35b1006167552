"""Logging in and out."""

from typing import cast

from django.conf import settings
from django.contrib.auth import login, logout
from django.http import HttpRequest
from django.views.decorators.csrf import ensure_csrf_cookie
from ninja import Router
from ninja.decorators import decorate_view
from ninja.security import SessionAuth

from keelturn.formats.reading import refused
from server import clock
from server.api.doors import REFUSALS, asking
from server.api.schemas import LogIn, PersonOut, Role, SessionOut
from server.school import guarding
from server.school.models import Deed, DeedKind, Person, Student

router = Router(tags=["session"])


class AnyoneWithOurPage(SessionAuth):
    """No session needed, but the CSRF token is: a foreign page cannot log somebody in."""

    def authenticate(self, request: HttpRequest, key: str | None) -> object:
        return True


def session_of(person: object) -> SessionOut:
    if not isinstance(person, Person):
        return SessionOut(person=None, zone=settings.TIME_ZONE, now=clock.now())
    student = Student.objects.filter(person=person).first()
    return SessionOut(
        person=PersonOut(
            id=person.pk,
            name=person.name,
            role=cast(Role, person.role),
            student_id=student.pk if student else None,
        ),
        zone=settings.TIME_ZONE,
        now=clock.now(),
    )


@router.get("", auth=None, response=SessionOut)
@decorate_view(ensure_csrf_cookie)
def session(request: HttpRequest) -> SessionOut:
    return session_of(request.user)


@router.post("/login", auth=AnyoneWithOurPage(), response={200: SessionOut, **REFUSALS})
def log_in(request: HttpRequest, data: LogIn) -> SessionOut:
    person = guarding.authenticated(request, data.username.strip(), data.password)
    if person is None:
        known = Person.objects.filter(username=data.username.strip()).first()
        Deed.note(known, DeedKind.NOT_LET_IN)
        raise refused("log-in", "name and password do not belong together", "Check both; capitals count.")
    login(request, person)
    Deed.note(person, DeedKind.LOGGED_IN)
    return session_of(person)


@router.post("/logout", response={200: SessionOut, **REFUSALS})
def log_out(request: HttpRequest) -> SessionOut:
    Deed.note(asking(request), DeedKind.LOGGED_OUT)
    logout(request)
    return session_of(None)
