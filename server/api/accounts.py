"""One's own account: the password, the second factor, where one is logged in."""

from django.contrib.auth import update_session_auth_hash
from django.contrib.auth.password_validation import password_validators_help_texts
from django.http import HttpRequest, HttpResponse
from ninja import Router

from server import clock
from server.api.account_schemas import (
    AccountOut,
    CodeIn,
    CodesOut,
    EndSession,
    NewPassword,
    OpenSessionOut,
    Passworded,
    ToScanOut,
)
from server.api.doors import REFUSALS, Unseen, a_file, asking, file_sent
from server.school.handouts.booking import calendar_ics
from server.school.models import School
from server.school.operations import accounts as operations
from server.school.operations import calendars

router = Router(tags=["account"])


@router.get("/account", response={200: AccountOut, **REFUSALS})
def account(request: HttpRequest) -> AccountOut:
    person = asking(request)
    return AccountOut(
        username=person.username,
        name=person.name,
        email=person.email,
        second_factor=operations.has_second_factor(person),
        codes_left=operations.codes_left(person),
        calendar=_address(request, calendars.key_of(person)),
        rules=password_validators_help_texts(),
        sessions=[
            OpenSessionOut(
                id=one.ident,
                agent=_in_words(one.agent),
                address=one.address,
                began=one.began,
                seen=one.seen,
                this=one.session_key == request.session.session_key,
            )
            for one in operations.open_sessions(person, clock.now() - clock.ahead())
        ],
    )


def _address(request: HttpRequest, key: str) -> str:
    return request.build_absolute_uri(f"/api/calendar/{key}.ics") if key else ""


@router.get("/calendar/{key}.ics", auth=None, response=REFUSALS, openapi_extra=a_file("text/calendar"))
def calendar(request: HttpRequest, key: str) -> HttpResponse:
    """Somebody's bookings: whoever has the address reads them."""
    person = calendars.whose(key)
    if person is None:
        raise Unseen("calendar")
    content = calendar_ics(
        calendars.booked(person, clock.now()), f"{School.called() or 'Keel Turn'}, bookings"
    )
    return file_sent(content, "text/calendar; charset=utf-8", "bookings.ics")


@router.post("/account/calendar", response={200: AccountOut, **REFUSALS})
def renew_calendar(request: HttpRequest) -> AccountOut:
    """An address, or another one: the one before leads nowhere then."""
    calendars.renew(asking(request))
    return account(request)


@router.delete("/account/calendar", response={200: AccountOut, **REFUSALS})
def take_calendar_away(request: HttpRequest) -> AccountOut:
    calendars.take_away(asking(request))
    return account(request)


def _in_words(agent: str) -> str:
    """What program and system it is; as it calls itself where that is not known."""
    from ua_parser import parse

    found = parse(agent)
    named = [part.family for part in (found.user_agent, found.os) if part is not None]
    return " on ".join(named) or agent


@router.post("/account/password", response={200: AccountOut, **REFUSALS})
def change_password(request: HttpRequest, data: NewPassword) -> AccountOut:
    """Elsewhere one is logged out by it."""
    person = asking(request)
    operations.change_password(person, data.old, data.new)
    operations.end_sessions(person, but=request.session.session_key or "")
    update_session_auth_hash(request, person)
    request.session.save()
    return account(request)


@router.post("/account/second-factor", response={200: ToScanOut, **REFUSALS})
def second_factor(request: HttpRequest, data: Passworded) -> ToScanOut:
    """What an app for codes scans. In use once its first code has come back."""
    import segno

    found = operations.second_factor_to_scan(asking(request), data.password)
    square = segno.make(found.address, error="m")
    return ToScanOut(secret=found.secret, picture=square.svg_data_uri(scale=5, border=3))


@router.post("/account/second-factor/on", response={200: CodesOut, **REFUSALS})
def second_factor_on(request: HttpRequest, data: CodeIn) -> CodesOut:
    return CodesOut(codes=operations.second_factor_on(asking(request), data.code))


@router.post("/account/second-factor/codes", response={200: CodesOut, **REFUSALS})
def new_codes(request: HttpRequest, data: Passworded) -> CodesOut:
    """Others; those before do not open any more."""
    return CodesOut(codes=operations.new_recovery_codes(asking(request), data.password))


@router.post("/account/second-factor/off", response={200: AccountOut, **REFUSALS})
def second_factor_off(request: HttpRequest, data: Passworded) -> AccountOut:
    operations.second_factor_off(asking(request), data.password)
    return account(request)


@router.post("/account/sessions/end", response={200: AccountOut, **REFUSALS})
def end_sessions(request: HttpRequest, data: EndSession) -> AccountOut:
    """One of them, or all but this."""
    idents = None if data.id is None else {data.id}
    operations.end_sessions(asking(request), idents, but=request.session.session_key or "")
    return account(request)
