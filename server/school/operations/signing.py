"""Signing a sortie and correcting a signed one."""

import hashlib
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import replace
from datetime import datetime

from django.db import connection, transaction

from keelturn.assess.second_look import SecondLook
from keelturn.document import Wrong
from keelturn.formats.chain import What, digest_of_correction
from keelturn.formats.reading import Problem, Refused, refusal_of, refused
from keelturn.formats.signed import Record, StageChanged, written
from keelturn.noting.attempt import Attempt
from keelturn.noting.correcting import FieldCorrection, in_words, require_it_holds
from keelturn.progress.stages import Act
from server import clock
from server.school.guarding import is_password_of
from server.school.models import AttemptRow, Correction, Person, Signature, Sortie, StageChange
from server.school.operations.adding import add_up_again, count_corrected
from server.school.operations.chaining import add_link
from server.school.operations.enrolling import count_flight
from server.school.operations.record import attempt_kept
from server.school.operations.showing import line_of, record_of
from server.school.operations.sorties import missing_for, sortie_to_change
from server.school.permissions import Denied, may


def digest_of(document: str) -> str:
    """SHA-256, in hexadecimal."""
    return hashlib.sha256(document.encode()).hexdigest()


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


def sign_sortie(
    person: Person,
    sortie_id: int,
    version: int,
    noted: int,
    password: str,
    looks: Callable[[Sortie, Record], dict[str, SecondLook]],
) -> Sortie:
    """noted: how many entries the record had that was looked at. looks: asked for the second look at its
    attempts, by their ids, which is signed with it. Raises Denied, Refused (wrong password,
    something missing, more noted since), Overtaken. The commit is flushed to disk before it returns."""
    if not is_password_of(person, password):
        raise refused(
            "password", "this is not your password", "Type the password you log in with. Nothing was signed."
        )
    sortie = sortie_to_change(person, sortie_id, version)
    record = record_of(sortie)
    _require_all_seen(noted, len(record.entries))
    missing = missing_for(record, sortie.stage_reached)["signed"]
    if missing:
        raise Refused([Problem("stage", words.rstrip("."), "Then sign.") for words in missing])
    record = replace(record, looks=looks(sortie, record))
    with flushed_to_disk(), transaction.atomic():
        sortie_to_change(person, sortie_id, version)
        _require_all_seen(noted, sortie.entries.count())
        add_up_again(sortie)
        seal(person, sortie, record, clock.now())
        count_flight(sortie.student)
    return sortie


def _require_all_seen(noted: int, now: int) -> None:
    """Raises Refused where entries came in, from another device, that the signer has not seen."""
    if now != noted:
        raise refused(
            "entries",
            f"{now} entries are on the record now, {noted} when you looked",
            "Look at what came in, then sign. Nothing was signed.",
        )


def seal(person: Person, sortie: Sortie, record: Record, at: datetime) -> None:
    """The record signed and the sortie locked, inside the caller's transaction."""
    signed = replace(
        record,
        signed_by=person.name,
        signed_at=at,
        stage_changes=(*record.stage_changes, StageChanged("signed", person.name, at)),
    )
    document = written(signed)
    signature = Signature.objects.create(
        sortie=sortie,
        by=person,
        at=at,
        document=document,
        digest=digest_of(document),
        line=line_of(signed),
    )
    add_link(What.SIGNED, signature.pk, sortie.pk, signature.digest, at)
    StageChange.objects.create(sortie=sortie, stage="signed", by=person, at=at)
    sortie.stage, sortie.version, sortie.changed_by = "signed", sortie.version + 1, person
    sortie.save()


def correction_digest(correction: Correction, before: str) -> str:
    """before: the digest before it, the record's or the correction's."""
    at, what = correction.at.isoformat(), correction.what
    return digest_of_correction(before, correction.by_name, at, correction.reason, correction.text, what)


def covered_of(correction: Correction) -> str:
    """What the chain covers of it: its digest; of one from before there were digests one that is made for
    it."""
    return correction.digest or correction_digest(correction, "")


def add_correction(person: Person, sortie: Sortie, reason: str, said: str | FieldCorrection) -> Correction:
    """Beside the original, with author, time and reason. said: what is correct in words, or of one thing
    noted of an attempt, which counts from then on. Raises Denied, Refused."""
    if not may(person, sortie, Act.CORRECT):
        raise Denied(
            "a signed record is corrected by its instructor or the chief", "One that is not signed is edited."
        )
    with flushed_to_disk(), transaction.atomic():
        last, row, what = sortie.corrections.last(), None, None
        if isinstance(said, str):
            text = said
        else:
            row, attempt = _attempt_of(sortie, said)
            text = f"{attempt.planned.title}: {in_words(attempt, said)}"
            what = said.model_dump(mode="json")
        made = Correction(
            sortie=sortie,
            by=person,
            by_name=person.name,
            at=clock.now(),
            reason=reason,
            text=text,
            what=what,
        )
        made.digest = correction_digest(made, last.digest if last is not None else sortie.signature.digest)
        made.save()
        add_link(What.CORRECTED, made.pk, sortie.pk, made.digest, made.at)
        if row is not None:
            count_corrected(sortie, row, record_of(sortie, working=False))
            count_flight(sortie.student)
    return made


def _attempt_of(sortie: Sortie, said: FieldCorrection) -> tuple[AttemptRow, Attempt]:
    """The attempt that is corrected, as it counts until now. Raises Refused."""
    for row in sortie.attempts.all():
        attempt = attempt_kept(row)
        if attempt is not None and attempt.id == said.attempt:
            try:
                require_it_holds(attempt, said)
            except Wrong as error:
                raise refusal_of(error) from error
            return row, attempt
    raise refused("attempt", "the record has no such attempt", "Look at the record again.")
