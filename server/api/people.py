"""Who belongs to the school, as its chief keeps it: invited by a link, changed, gone and back; erased."""

from typing import cast

from django.http import HttpRequest
from django_otp.plugins.otp_totp.models import TOTPDevice
from ninja import Router
from ninja.responses import Status

from keelturn.formats.reading import refused
from server import mail
from server.api.account_schemas import (
    LeaveIn,
    LetterOut,
    LettersOut,
    LinkOut,
    PersonIn,
    PersonLine,
    PersonState,
    SchoolNamed,
    StepOut,
    StepsOut,
)
from server.api.doors import REFUSALS, Unseen, asking
from server.api.schemas import Id, Role
from server.school.models import Erasure, KeptMail, Person, School
from server.school.models.people import Role as RoleKept
from server.school.operations import first_start
from server.school.operations import people as operations
from server.school.operations.accounts import take_off_second_factor
from server.school.operations.people import WHO, Who
from server.school.permissions import require_chief

router = Router(tags=["people"])


def person_of(person_id: int) -> Person:
    """Raises Unseen."""
    found = Person.objects.filter(pk=person_id).first()
    if found is None:
        raise Unseen("person")
    return found


@router.get("/people", response={200: list[PersonLine], **REFUSALS})
def people(request: HttpRequest) -> list[PersonLine]:
    """Those who left at the end. Three queries."""
    require_chief(asking(request), WHO)
    factors = set(TOTPDevice.objects.filter(confirmed=True).values_list("user", flat=True))
    erased = set(Erasure.objects.values_list("person", flat=True))
    return [_line(p, p.pk in factors, p.pk in erased) for p in operations.everybody()]


def _line(person: Person, second_factor: bool, erased: bool) -> PersonLine:
    student = getattr(person, "student", None)
    return PersonLine(
        id=person.pk,
        username=person.username,
        name=person.name,
        email=person.email,
        role=cast(Role, person.role),
        student_id=None if student is None else student.pk,
        weight_lb=person.weight_lb,
        state=_state(person, erased),
        since=person.left_at or (None if person.has_usable_password() else person.invited_at),
        left_why=person.left_why or "",
        last_login=person.last_login,
        second_factor=second_factor,
        ahead=getattr(person, "ahead", 0),
    )


def _state(person: Person, erased: bool) -> PersonState:
    if erased:
        return "erased"
    if not person.is_active:
        return "left"
    return "in" if person.has_usable_password() else "asked in"


def _who(data: PersonIn) -> Who:
    return Who(
        username=data.username,
        name=data.name.strip(),
        email=data.email.strip(),
        role=RoleKept(data.role),
        student=data.student,
        weight_lb=data.weight_lb,
    )


@router.post("/people", response={201: LinkOut, **REFUSALS})
def invite(request: HttpRequest, data: PersonIn) -> Status[LinkOut]:
    """Somebody new, and the link by which they come in."""
    made = operations.invite(asking(request), _who(data))
    return Status(201, _linked(request, made))


@router.post("/people/{person_id}/link", response={200: LinkOut, **REFUSALS})
def another_link(request: HttpRequest, person_id: Id) -> LinkOut:
    """Into an account whose password is not known, or not yet. The one before does not open any more."""
    require_chief(asking(request), WHO)
    return _linked(request, person_of(person_id))


def _linked(request: HttpRequest, person: Person) -> LinkOut:
    link = request.build_absolute_uri(operations.link_for(asking(request), person))
    words = mail.send(person.email, "Your way into Keel Turn", operations.letter(person, link))
    return LinkOut(link=link, words=words, person=_read(request, person.pk))


def _read(request: HttpRequest, person_id: int) -> PersonLine:
    return next(line for line in people(request) if line.id == person_id)


@router.put("/people/{person_id}", response={200: PersonLine, **REFUSALS})
def change(request: HttpRequest, person_id: Id, data: PersonIn) -> PersonLine:
    require_chief(asking(request), WHO)
    operations.change(asking(request), person_of(person_id), _who(data))
    return _read(request, person_id)


@router.post("/people/{person_id}/leave", response={200: PersonLine, **REFUSALS})
def leave(request: HttpRequest, person_id: Id, data: LeaveIn) -> PersonLine:
    require_chief(asking(request), WHO)
    instead = None if data.instead is None else person_of(data.instead)
    operations.leave(asking(request), person_of(person_id), data.reason.strip(), instead)
    return _read(request, person_id)


@router.post("/people/{person_id}/back", response={200: PersonLine, **REFUSALS})
def come_back(request: HttpRequest, person_id: Id) -> PersonLine:
    require_chief(asking(request), WHO)
    operations.come_back(asking(request), person_of(person_id))
    return _read(request, person_id)


@router.post("/people/{person_id}/second-factor/off", response={200: PersonLine, **REFUSALS})
def second_factor_off(request: HttpRequest, person_id: Id) -> PersonLine:
    """For one whose device is lost with the recovery codes."""
    require_chief(asking(request), WHO)
    take_off_second_factor(asking(request), person_of(person_id))
    return _read(request, person_id)


@router.get("/first-steps", response={200: StepsOut, **REFUSALS})
def first_steps(request: HttpRequest) -> StepsOut:
    """From an empty installation to a first flight."""
    require_chief(asking(request), "the school")
    steps = [StepOut(**vars(step)) for step in first_start.steps()]
    return StepsOut(school=School.called(), steps=steps)


@router.put("/school-name", response={200: StepsOut, **REFUSALS})
def name_the_school(request: HttpRequest, data: SchoolNamed) -> StepsOut:
    require_chief(asking(request), "the school")
    first_start.name_school(asking(request), data.name.strip())
    return first_steps(request)


@router.get("/letters", response={200: LettersOut, **REFUSALS})
def letters(request: HttpRequest) -> LettersOut:
    require_chief(asking(request), WHO)
    if not mail.is_kept():
        raise refused("letters", "letters are not kept here", "They are kept in the demo only.")
    return LettersOut(
        letters=[
            LetterOut(to=one.to, subject=one.subject, text=one.text, at=one.at)
            for one in KeptMail.objects.all()[:50]
        ]
    )
