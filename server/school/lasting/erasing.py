"""Somebody erased at their request: what is about them goes, except for what the chief decides must be kept,
and until when. It is said in the chain that it was done, without saying who it was."""

import json
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date
from functools import partial

from axes.utils import reset
from django.db import transaction
from django.db.models import Count
from django_otp.plugins.otp_static.models import StaticDevice
from django_otp.plugins.otp_totp.models import TOTPDevice

from keelturn.formats.chain import What
from keelturn.formats.reading import refused
from server import clock, recordings
from server.school.guarding import is_password_of
from server.school.lasting.scope import OF_SORTIE
from server.school.models import (
    CalendarKey,
    Change,
    Deed,
    DeedKind,
    DueDate,
    Enrolment,
    Erased,
    Erasure,
    GroundDone,
    KeptMail,
    OpenSession,
    Person,
    Recorded,
    Sortie,
    Statement,
    Student,
    Taken,
    Waiting,
)
from server.school.operations.chaining import add_link
from server.school.operations.own import count_population
from server.school.operations.people import ahead_of
from server.school.operations.signing import digest_of, flushed_to_disk
from server.school.permissions import require_chief


@dataclass(frozen=True)
class WouldGo:
    """What erasing somebody takes away, and what can be kept. others: signed records of other people in which
    their name stands as instructor; it stays there."""

    open_sorties: int
    signed: int
    recordings: int
    others: int


def what_would_go(person: Person) -> WouldGo:
    """Four queries."""
    mine = Sortie.objects.filter(student__person=person)
    return WouldGo(
        open_sorties=mine.exclude(stage="signed").count(),
        signed=mine.filter(stage="signed").count(),
        recordings=Recorded.objects.filter(sortie__in=mine).count(),
        others=Sortie.objects.filter(instructor=person, stage="signed").count(),
    )


def signed_of(people: Iterable[int]) -> dict[int, int]:
    """How many signed records there are of each of these. One query."""
    found = Sortie.objects.filter(student__person__in=people, stage="signed")
    counted = found.values("student__person").order_by().annotate(n=Count("pk"))
    return {row["student__person"]: row["n"] for row in counted}


def erase(chief: Person, person: Person, reason: str, kept_until: date | None, password: str) -> Erasure:
    """kept_until: the signed records stay until then, under a number instead of the name outside of them;
    None: they go too. Again with None once that day has come. Raises Denied, Refused. The commit is flushed
    to disk before it returns."""
    require_chief(chief, "who is erased")
    if not is_password_of(chief, password):
        raise refused(
            "password", "this is not your password", "Type the password you log in with. Nothing was erased."
        )
    if person.pk == chief.pk:
        raise refused("person", "this is you", "Another chief has to erase a chief.")
    if kept_until is not None and kept_until <= clock.day_of(clock.now()):
        raise refused(
            "kept_until", f"{kept_until:%d %b %Y} has passed", "Give a day to come, or keep nothing."
        )
    if person.is_active and (left := len(ahead_of(person).instructs)):
        raise refused(
            "person",
            f"{person.name} has {left} sorties to fly, debrief or sign as instructor",
            "Let them leave first: another takes them over.",
        )
    with flushed_to_disk(), transaction.atomic():
        _require_nothing_promised(person, kept_until)
        mine = Sortie.objects.filter(student__person=person)
        going = mine.exclude(stage="signed") if kept_until is not None else mine
        sorties = sorted(going.values_list("pk", flat=True))
        student = Student.objects.filter(person=person).first()
        made = _written(chief, person, reason, kept_until, sorties)
        _let_go(made, student, sorties)
        _remove(sorties)
        _blank(person, student, keeps=kept_until is not None)
        count_population()
        Deed.note(chief, DeedKind.ERASED, f"person {person.pk}", reason)
    return made


def _require_nothing_promised(person: Person, kept_until: date | None) -> None:
    """What was to be kept until a day is kept until then."""
    last = Erasure.objects.filter(person=person.pk).exclude(kept_until=None).last()
    if last is None or last.kept_until is None:
        return
    if last.kept_until > (kept_until or clock.day_of(clock.now())):
        raise refused(
            "kept_until",
            f"the signed records are to be kept until {last.kept_until:%d %b %Y}",
            "Remove them after that day.",
        )


def _written(
    chief: Person, person: Person, reason: str, kept_until: date | None, sorties: list[int]
) -> Erasure:
    at = clock.now()
    said = {
        "person": person.pk,
        "decided_by": chief.pk,
        "reason": reason,
        "at": at.isoformat(),
        "kept_until": kept_until.isoformat() if kept_until else None,
        "sorties": sorties,
    }
    document = json.dumps(said, sort_keys=True, ensure_ascii=False, separators=(",", ":"))
    made = Erasure.objects.create(
        person=person.pk,
        by=chief,
        at=at,
        reason=reason,
        kept_until=kept_until,
        document=document,
        digest=digest_of(document),
    )
    add_link(What.ERASED, made.pk, 0, made.digest, at)
    return made


def _let_go(erasure: Erasure, student: Student | None, sorties: Iterable[int]) -> None:
    """The guards of the database let these go from here on."""
    subjects = [*(f"sortie {pk}" for pk in sorties), *_of_person(erasure.person, student)]
    known = set(Erased.objects.filter(subject__in=subjects).values_list("subject", flat=True))
    Erased.objects.bulk_create(
        Erased(erasure=erasure, subject=subject) for subject in subjects if subject not in known
    )


def _of_person(person: int, student: Student | None) -> list[str]:
    """What changes about them are kept under."""
    return [f"person {person}"] + ([] if student is None else [f"student {student.pk}"])


def _remove(sorties: list[int]) -> None:
    """With all that belongs to them, and the files that belong to nothing else then."""
    files = set(Recorded.objects.filter(sortie__in=sorties).values_list("digest", flat=True))
    for table in OF_SORTIE:
        table.objects.filter(sortie__in=sorties).delete()
    Sortie.objects.filter(pk__in=sorties).delete()
    for rows in (Recorded.objects, Waiting.objects):
        files -= set(rows.filter(digest__in=files).values_list("digest", flat=True))
    for digest in files:
        transaction.on_commit(partial(recordings.drop, digest))


def _blank(person: Person, student: Student | None, keeps: bool) -> None:
    Change.objects.filter(subject__in=_of_person(person.pk, student)).delete()
    _out_of_every_way_in(person)
    DueDate.objects.filter(person=person).delete()
    Taken.objects.filter(person=person).delete()
    person.name, person.username = f"Erased {person.pk}", f"erased-{person.pk}"
    person.email = person.first_name = person.last_name = ""
    person.left_why = None
    person.weight_lb, person.is_active = Person._meta.get_field("weight_lb").default, False
    person.set_unusable_password()
    person.save()
    if student is None:
        return
    student.goal = student.stage_reason = ""
    student.save(update_fields=["goal", "stage_reason"])
    if not keeps:
        Statement.objects.filter(person=person).exclude(takes_back=None).delete()
        Statement.objects.filter(person=person).delete()
        GroundDone.objects.filter(student=student).delete()
        Enrolment.objects.filter(student=student).delete()


def _out_of_every_way_in(person: Person) -> None:
    """Sessions, the second factor, the address of a calendar, letters, and what counts wrong passwords."""
    OpenSession.objects.filter(person=person.pk).delete()
    CalendarKey.objects.filter(person=person).delete()
    TOTPDevice.objects.filter(user=person).delete()
    StaticDevice.objects.filter(user=person).delete()
    if person.email:
        KeptMail.objects.filter(to=person.email).delete()
    reset(username=person.username)
