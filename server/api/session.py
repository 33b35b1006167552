"""Logging in and out."""

from typing import cast

from django.conf import settings
from django.contrib.auth import login, logout
from django.contrib.auth.password_validation import password_validators_help_texts
from django.http import HttpRequest
from django.views.decorators.csrf import ensure_csrf_cookie
from ninja import Router
from ninja.decorators import decorate_view
from ninja.security import SessionAuth

from keelturn.formats.reading import refused
from server import clock, mail, sessions
from server.api.account_schemas import FirstStartIn, Forgot, ForgotOut, Passworded, WelcomeOut
from server.api.doors import REFUSALS, asking
from server.api.schemas import LoadingOut, LogIn, PersonOut, Role, SessionOut
from server.school import guarding
from server.school.demo.behind import progress
from server.school.models import Deed, DeedKind, Person, School, Student
from server.school.operations import accounts, first_start, people

router = Router(tags=["session"])


class AnyoneWithOurPage(SessionAuth):
    """No session needed, but the CSRF token is: a foreign page cannot log somebody in."""

    def authenticate(self, request: HttpRequest, key: str | None) -> object:
        return True


def session_of(person: object, asks_code: bool = False) -> SessionOut:
    return SessionOut(
        person=_of(person) if isinstance(person, Person) else None,
        zone=settings.TIME_ZONE,
        now=clock.now(),
        asks_code=asks_code,
        mail=mail.can_be_sent(),
        letters_kept=mail.is_kept(),
        school=School.called(),
        first_start=not isinstance(person, Person) and not Person.objects.exists(),
        loading=_loading(),
    )


def _loading() -> LoadingOut | None:
    found = progress(settings.DATA)
    return None if found is None else LoadingOut(done=found.done, of=found.of)


def _of(person: Person) -> PersonOut:
    student = Student.objects.filter(person=person).first()
    return PersonOut(
        id=person.pk,
        name=person.name,
        role=cast(Role, person.role),
        student_id=student.pk if student else None,
    )


@router.get("", auth=None, response=SessionOut)
@decorate_view(ensure_csrf_cookie)
def session(request: HttpRequest) -> SessionOut:
    return session_of(request.user)


@router.post("/login", auth=AnyoneWithOurPage(), response={200: SessionOut, **REFUSALS})
def log_in(request: HttpRequest, data: LogIn) -> SessionOut:
    username = data.username.strip()
    person = guarding.authenticated(request, username, data.password)
    if person is None:
        Deed.note(Person.objects.filter(username=username).first(), DeedKind.NOT_LET_IN)
        raise refused("log-in", "name and password do not belong together", "Check both; capitals count.")
    if accounts.has_second_factor(person):
        if not data.code.strip():
            return session_of(None, asks_code=True)
        if not accounts.is_code_of(person, data.code):
            Deed.note(person, DeedKind.NOT_LET_IN, words="wrong code")
            raise refused(
                "code",
                "this code does not open",
                "Take the one that the app shows now, or a recovery code; wait a little after a wrong one.",
            )
    return _let_in(request, person)


def _let_in(request: HttpRequest, person: Person) -> SessionOut:
    login(request, person, "django.contrib.auth.backends.ModelBackend")
    sessions.began(request)
    # By our clock, which may be set.
    Person.objects.filter(pk=person.pk).update(last_login=clock.now())
    Deed.note(person, DeedKind.LOGGED_IN)
    return session_of(person)


@router.get("/welcome/{name}/{token}", auth=None, response={200: WelcomeOut, **REFUSALS})
def welcome(request: HttpRequest, name: str, token: str) -> WelcomeOut:
    """Whom a link lets in."""
    person = people.whose_link(name, token)
    return WelcomeOut(name=person.name, username=person.username, rules=password_validators_help_texts())


@router.post("/welcome/{name}/{token}", auth=AnyoneWithOurPage(), response={200: SessionOut, **REFUSALS})
def enter(request: HttpRequest, name: str, token: str, data: Passworded) -> SessionOut:
    """Through a link, with a password of their own from now on. A second factor is asked for at the log-in
    after it."""
    person = people.enter(name, token, data.password)
    accounts.end_sessions(person)
    if accounts.has_second_factor(person):
        return session_of(None)
    return _let_in(request, person)


@router.post("/first", auth=AnyoneWithOurPage(), response={200: SessionOut, **REFUSALS})
def first(request: HttpRequest, data: FirstStartIn) -> SessionOut:
    """Into an installation in which nobody is yet: the first chief, and what the school is called."""
    return _let_in(
        request,
        first_start.begin(data.school, data.username, data.name, data.email, data.password, data.weight_lb),
    )


@router.post("/forgot", auth=AnyoneWithOurPage(), response={200: ForgotOut, **REFUSALS})
def forgot(request: HttpRequest, data: Forgot) -> ForgotOut:
    """The same answer to every name: who belongs to the school is told to nobody."""
    if not mail.can_be_sent():
        raise refused("letter", "no letters are sent from here", "Ask the chief instructor for a link.")
    found = people.link_asked_for(data.username.strip())
    if found is not None:
        person, path = found
        text = people.letter(person, request.build_absolute_uri(path))
        mail.send(person.email, "Your way into Keel Turn", text)
    return ForgotOut(
        words="If this name has an address for letters, one with a link is on its way. Else ask the chief."
    )


@router.post("/logout", response={200: SessionOut, **REFUSALS})
def log_out(request: HttpRequest) -> SessionOut:
    Deed.note(asking(request), DeedKind.LOGGED_OUT)
    logout(request)
    return session_of(None)
