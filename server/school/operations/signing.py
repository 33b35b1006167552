"""Signing a sortie and correcting a signed one."""

import hashlib
import json
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

from django.db import connection, transaction

from keelturn.assess.attempts import LossAccount
from keelturn.formats.reading import Problem, Refused, refused
from keelturn.formats.signed import ACCOUNTS, PLAN_ANSWER, VERSION, read_signed
from keelturn.plan.sequence import PlanAnswer
from keelturn.progress.stages import Act
from server import clock
from server.school.models import Correction, Person, SchoolStandards, Signature, Sortie, StageChange
from server.school.operations.computing import SortieAnswer, answer_for
from server.school.operations.sorties import missing_for, sortie_to_change
from server.school.permissions import Denied, may


def digest_of(document: str) -> str:
    return hashlib.sha256(document.encode()).hexdigest()


def signed_document(sortie: Sortie, answer: SortieAnswer, person: Person, at: str) -> str:
    """Everything the signature covers, as canonical JSON: what was planned, flown and judged, what it was
    computed from (card, place, standards as they were), and every computed number with its working."""
    document: dict[str, Any] = {
        "format": "keelturn-signed-sortie",
        "version": VERSION,
        "sortie": sortie.pk,
        "signed_by": person.name,
        "signed_at": at,
        "student": sortie.student.person.name,
        "student_stage": sortie.student.stage,
        "instructor": sortie.instructor.name,
        "planned_for": sortie.planned_for.isoformat(),
        "aircraft": sortie.aircraft.registration,
        "card": sortie.aircraft.card,
        "place": sortie.place.place,
        "standards": SchoolStandards.in_force().standards,
        "plan": sortie.plan,
        "brief": sortie.brief,
        "debrief": sortie.debrief,
        "attempts": [row.attempt for row in sortie.attempts.all()],
        "stage_changes": [
            {"stage": c.stage, "by": c.by.name, "at": c.at.isoformat()}
            for c in sortie.stage_changes.select_related("by")
        ],
        "answer": PLAN_ANSWER.dump_python(answer.answer, mode="json"),
        "accounts": ACCOUNTS.dump_python(answer.accounts, mode="json"),
    }
    return json.dumps(document, sort_keys=True, ensure_ascii=False, separators=(",", ":"))


@contextmanager
def flushed_to_disk() -> Iterator[None]:
    """Commits inside are on the disk before they return. SQLite allows the switch only outside a transaction;
    inside somebody else's, how it is committed is theirs to say."""
    if connection.in_atomic_block:
        yield
        return
    with connection.cursor() as cursor:
        cursor.execute("PRAGMA synchronous=FULL")
    try:
        yield
    finally:
        with connection.cursor() as cursor:
            cursor.execute("PRAGMA synchronous=NORMAL")


def sign_sortie(person: Person, sortie_id: int, version: int, password: str) -> Sortie:
    """Raises Denied, Refused (wrong password, something missing), Overtaken. The commit is flushed to disk
    before it returns."""
    if not person.check_password(password):
        raise refused(
            "password", "this is not your password", "Type the password you log in with. Nothing was signed."
        )
    with flushed_to_disk(), transaction.atomic():
        sortie = sortie_to_change(person, sortie_id, version)
        answer = answer_for(sortie)
        missing = missing_for(sortie, answer.answer.stops)["signed"]
        if missing:
            raise Refused([Problem("stage", words.rstrip("."), "Then sign.") for words in missing])
        at = clock.now()
        document = signed_document(sortie, answer, person, at.isoformat())
        Signature.objects.create(
            sortie=sortie, by=person, at=at, document=document, digest=digest_of(document)
        )
        StageChange.objects.create(sortie=sortie, stage="signed", by=person)
        sortie.stage, sortie.version, sortie.changed_by = "signed", sortie.version + 1, person
        sortie.save()
    return sortie


def answer_as_signed(signature: Signature) -> tuple[PlanAnswer, dict[str, LossAccount]]:
    """The computed numbers as they were when signed."""
    return read_signed(json.loads(signature.document))


def add_correction(person: Person, sortie: Sortie, reason: str, text: str) -> Correction:
    """Beside the original, with author, time and reason. Raises Denied."""
    if not may(person, sortie, Act.CORRECT):
        raise Denied(
            "A signed record is corrected by its instructor or the chief; one that is not signed is edited."
        )
    return Correction.objects.create(sortie=sortie, by=person, reason=reason, text=text)
