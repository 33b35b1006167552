"""A person's own bookings at an address that nobody can guess, for the calendar on their telephone."""

import secrets
from datetime import datetime, timedelta

from django.db import transaction
from django.db.models import Q

from server import clock
from server.school.models import CalendarKey, Deed, DeedKind, Person, Sortie
from server.school.permissions import with_people

# So far back a calendar is told of what was flown.
BACK = timedelta(days=60)


def key_of(person: Person) -> str:
    """Empty where they have none. One query."""
    return CalendarKey.objects.filter(person=person).values_list("key", flat=True).first() or ""


def renew(person: Person) -> None:
    """Another address; the one before leads nowhere from now on."""
    with transaction.atomic():
        made = {"key": secrets.token_urlsafe(32), "at": clock.now()}
        CalendarKey.objects.update_or_create(person=person, defaults=made)
        Deed.note(person, DeedKind.CALENDAR, words="an address")


def take_away(person: Person) -> None:
    with transaction.atomic():
        if CalendarKey.objects.filter(person=person).delete()[0]:
            Deed.note(person, DeedKind.CALENDAR, words="no address any more")


def whose(key: str) -> Person | None:
    """None for an address that leads nowhere, or to somebody who has left. One query."""
    found = CalendarKey.objects.filter(key=key, person__is_active=True).select_related("person").first()
    return None if found is None else found.person


def booked(person: Person, now: datetime) -> list[Sortie]:
    """What they instruct and what they fly, cancelled ones too: a calendar takes those out. One query."""
    theirs = Q(instructor=person) | Q(student__person=person)
    found = with_people(Sortie.objects.filter(theirs, planned_for__gte=now - BACK))
    return list(found.select_related("signature").defer("signature__document"))
