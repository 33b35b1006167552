"""Whether a signed record is still as it was signed: its digest, and the rows beside it."""

from collections.abc import Iterator
from typing import Any

from django.db.models import QuerySet

from keelturn.formats.kept import filled
from keelturn.formats.reading import Unreadable
from keelturn.formats.signed import VERSION, Record
from keelturn.formats.signed_before import in_todays_words
from keelturn.noting.attempt import Attempt
from keelturn.plan.briefing import Brief
from keelturn.plan.document import PlanDocument
from keelturn.progress.stages import Debrief
from server.school.models import Signature, Sortie
from server.school.operations.adding import counts_since
from server.school.operations.showing import as_read, line_of
from server.school.operations.signing import correction_digest, digest_of


def signatures() -> QuerySet[Signature]:
    """With what looking at them needs, in the order of signing."""
    return (
        Signature.objects.select_related("sortie")
        .prefetch_related(
            "sortie__attempts",
            "sortie__stage_changes",
            "sortie__booking_changes",
            "sortie__corrections__by",
            "sortie__questions",
            "sortie__recordings",
        )
        .order_by("pk")
    )


def first_that_does_not_hold(signature: Signature) -> str | None:
    """In words; None where all of it holds."""
    return next(_faults(signature), None)


def _faults(signature: Signature) -> Iterator[str]:
    if digest_of(signature.document) != signature.digest:
        yield "the document is not the one that was signed: its digest differs"
    try:
        read = as_read(signature, working=False)
    except Unreadable as error:
        yield str(error)
        return
    sortie, record = signature.sortie, read.record
    if record.sortie != sortie.pk:
        yield f"the document is of sortie {record.sortie}, and stands beside another"
    if record.signed_at != signature.at:
        yield "the time of the signature differs from the document's"
    if sortie.stage != "signed":
        yield f"the sortie is marked as {sortie.stage}"
    yield from _sheets(sortie, record)
    yield from _attempts(sortie, record)
    if read.version == VERSION:
        yield from _since_version_3(signature, record, "recordings" in read.names)
    yield from _corrections(signature)


def _sheets(sortie: Sortie, record: Record) -> Iterator[str]:
    pairs: tuple[tuple[str, Any, Any], ...] = (
        ("plan", filled(PlanDocument, sortie.plan), record.plan),
        ("brief", filled(Brief, sortie.brief), record.brief),
        ("debrief", filled(Debrief, sortie.debrief), record.debrief),
        ("time", sortie.planned_for, record.planned_for),
    )
    for name, now, then in pairs:
        if now != then:
            yield f"the stored {name} differs from the signed one"


def _attempts(sortie: Sortie, record: Record) -> Iterator[str]:
    rows = list(sortie.attempts.all())
    if len(rows) != len(record.attempts):
        yield f"{len(rows)} attempts are stored and {len(record.attempts)} were signed"
    for row, attempt in zip(rows, record.attempts, strict=False):
        now, words = counts_since(sortie, attempt)
        briefed = record.accounts[attempt.id].planned.value if attempt.id in record.accounts else None
        stored = filled(Attempt, row.corrected["attempt"]) if row.corrected else None
        if filled(Attempt, in_todays_words(row.attempt)) != attempt or row.figure != attempt.planned.key:
            yield f"the stored attempt {attempt.id} differs from the signed one"
        elif words:
            # What it was briefed to lose is left out: another program may work it out anew.
            if (row.lost_ft, stored) != (now.lost_ft, now):
                yield f"what counts of attempt {attempt.id} is not what was signed and corrected"
        elif (row.lost_ft, row.briefed_ft, stored) != (attempt.lost_ft, briefed, None):
            yield f"the stored attempt {attempt.id} differs from the signed one"


def _since_version_3(signature: Signature, record: Record, recordings_kept: bool) -> Iterator[str]:
    sortie = signature.sortie
    people = (sortie.student_id, sortie.instructor_id, sortie.aircraft_id, sortie.place_id)
    if people != (record.student_id, record.instructor_id, record.aircraft_id, record.place_id):
        yield "student, instructor, aircraft or place differ from the signed ones"
    if signature.line != line_of(record):
        yield "its line in the lists differs from the document"
    changes = [(change.stage, change.at) for change in sortie.stage_changes.all()]
    if changes != [(change.stage, change.at) for change in record.stage_changes]:
        yield "the stages it went through differ from the signed ones"
    booked = [(c.what, c.before, c.after, c.at) for c in sortie.booking_changes.all()]
    if booked != [(c.what, c.before, c.after, c.at) for c in record.rebooked]:
        yield "how it was booked differs from what was signed"
    # Hundreds of them: as they stand in their table, without an object for each.
    noted = sortie.entries.values_list("entry", flat=True)
    if list(noted) != [entry.model_dump(mode="json") for entry in record.entries]:
        yield "the entries differ from the signed ones"
    files = [(r.digest, r.size, r.set_aside, r.at) for r in sortie.recordings.all()]
    if files != [(r.digest, r.size, r.set_aside, r.at) for r in record.recordings] and recordings_kept:
        yield "the recordings differ from the signed ones"
    asked = [(question.id, question.text, question.answer) for question in sortie.questions.all()]
    if asked != [(question.id, question.text, question.answer) for question in record.questions]:
        yield "the questions differ from the signed ones"


def _corrections(signature: Signature) -> Iterator[str]:
    before = signature.digest
    for correction in signature.sortie.corrections.all():
        # Made before corrections had digests.
        if correction.digest and correction.digest != correction_digest(correction, before):
            yield f"the correction of {correction.at:%d %b %Y} is not as it was written"
        before = correction.digest or before
