"""How people stand to what is required of them, and what is on record of it by somebody's word."""

from datetime import date

from django.http import HttpRequest
from ninja import Router, Status
from pydantic import Field

from keelturn.document import Sentence
from keelturn.progress.requirements import AskKind, RequirementStanding, WordGiven
from server.api.doors import REFUSALS, Unseen, asking
from server.api.schema import Schema
from server.api.schemas import Id
from server.api.week_schemas import SOMETHING
from server.school.models import Person, Statement
from server.school.operations import requirements as operations
from server.school.permissions import Denied

router = Router(tags=["requirements"])


class RequirementsOut(Schema):
    """may_state: whether the asker may enter somebody's word for them."""

    person_id: int
    name: str
    may_state: bool
    standings: list[RequirementStanding]
    stated: list[WordGiven]


class StatementIn(Schema):
    """amount: hours or flights, 0 for a signature or a flight that was lately. signed_by: who gave it, and as
    what."""

    requirement: str = Field(max_length=40)
    what: AskKind
    amount: float = Field(0, ge=0)
    on: date
    signed_by: str = Field(max_length=120, pattern=SOMETHING)
    words: str = Field("", max_length=300)


class TakeBackIn(Schema):
    reason: Sentence = Field(max_length=300)


def _seen(request: HttpRequest, person_id: int) -> Person:
    """Students by who teaches, instructors by the chief, everybody by themselves. Raises Unseen."""
    asker = asking(request)
    found = Person.objects.filter(pk=person_id).select_related("student").first()
    seen = found is not None and (
        found.pk == asker.pk or asker.is_chief or (asker.teaches and not found.teaches)
    )
    if found is None or not seen:
        raise Unseen("person")
    return found


def _out(asker: Person, person: Person) -> RequirementsOut:
    return RequirementsOut(
        person_id=person.pk,
        name=person.name,
        may_state=_may_state(asker, person),
        standings=operations.standings_of(person),
        stated=operations.stated_of(person),
    )


def _may_state(asker: Person, person: Person) -> bool:
    try:
        operations.require_may_state(asker, person)
    except Denied:
        return False
    return True


@router.get("/requirements/{person_id}", response={200: RequirementsOut, **REFUSALS})
def requirements(request: HttpRequest, person_id: Id) -> RequirementsOut:
    return _out(asking(request), _seen(request, person_id))


@router.post("/requirements/{person_id}", response={201: RequirementsOut, **REFUSALS})
def state(request: HttpRequest, person_id: Id, data: StatementIn) -> Status[RequirementsOut]:
    """Somebody's word, on record: hours or flights of elsewhere, or a signature."""
    asker, person = asking(request), _seen(request, person_id)
    operations.state(
        asker,
        person,
        operations.Said(
            data.requirement, data.what, data.amount, data.on, data.signed_by.strip(), data.words.strip()
        ),
    )
    return Status(201, _out(asker, person))


@router.post("/statements/{statement_id}/take-back", response={200: RequirementsOut, **REFUSALS})
def take_back(request: HttpRequest, statement_id: Id, data: TakeBackIn) -> RequirementsOut:
    """It was wrong; it stays on record with who took it back and why."""
    found = Statement.objects.filter(pk=statement_id).select_related("person").first()
    if found is None:
        raise Unseen("statement")
    person = _seen(request, found.person_id)
    operations.take_back(asking(request), found, data.reason)
    return _out(asking(request), person)
