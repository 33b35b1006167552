"""Everything of a student or of the school in one archive, made while it is sent: rows as JSON, tables as
CSV, signed records word for word and as sheets in PDF, recordings, checksums. docs/formats.md."""

import csv
import hashlib
import json
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from datetime import datetime
from io import StringIO
from itertools import chain
from typing import Any
from zipfile import ZIP_DEFLATED

from django.core import serializers
from django.core.serializers.json import DjangoJSONEncoder
from django.db import connection
from django.db.models import QuerySet

from keelturn.formats.reading import Unreadable
from server import clock, recordings
from server.school.handouts.data import text_of
from server.school.handouts.sheet import sheet_pdf
from server.school.lasting.scope import PERSON_FIELDS, TABLES, Scope, name_of
from server.school.models import AttemptRow, Person, Recorded, Signature, Sortie, Student, Waiting
from server.school.operations.chaining import head
from server.school.operations.showing import as_signed, signature_of, stored_line

FORMAT, VERSION = "keelturn-school", 1
CONTENTS, SUMS = "keelturn.json", "SHA256SUMS"
# Rows that are read at once.
AT_ONCE = 200


class _Whole(DjangoJSONEncoder):
    """Times to the last digit: a digest may cover them."""

    def default(self, o: Any) -> Any:
        return o.isoformat() if isinstance(o, datetime) else super().default(o)


def archive_of(scope: Scope) -> Iterator[bytes]:
    """The bytes of a ZIP archive, all of it as the school is at this moment."""
    from zipstream import ZipStream

    with at_one_time():
        archive, sums = ZipStream(compress_type=ZIP_DEFLATED), list[str]()
        for name, content in _files(scope):
            archive.add(_summed(name, content, sums), name)
            # So that the next is begun when this one is through, and not all at once.
            yield from archive.all_files()
        archive.add(_lines(sums), SUMS)
        yield from archive.finalize()


@contextmanager
def at_one_time() -> Iterator[None]:
    """Whatever is written meanwhile, what is read inside is of one moment, and nobody waits for it. Inside
    somebody else's transaction it is theirs."""
    if connection.in_atomic_block:
        yield
        return
    with connection.cursor() as cursor:
        cursor.execute("BEGIN DEFERRED")
    try:
        yield
    finally:
        with connection.cursor() as cursor:
            cursor.execute("ROLLBACK")


def _summed(name: str, content: Iterable[bytes], sums: list[str]) -> Iterator[bytes]:
    total = hashlib.sha256()
    for part in content:
        total.update(part)
        yield part
    sums.append(f"{total.hexdigest()}  {name}\n")


def _lines(sums: Iterable[str]) -> Iterator[bytes]:
    yield "".join(sums).encode()


def _files(scope: Scope) -> Iterator[tuple[str, Iterable[bytes]]]:
    yield CONTENTS, _contents(scope)
    for table in TABLES:
        yield name_of(table), _rows(scope, table)
    yield "csv/sorties.csv", _sorties_csv(scope)
    yield "csv/attempts.csv", _attempts_csv(scope)
    yield "csv/students.csv", _students_csv(scope)
    for signature in _signatures(scope):
        yield f"signed/sortie-{signature.sortie_id}.json", iter([signature.document.encode()])
        yield f"pdf/sortie-{signature.sortie_id}.pdf", _sheet(signature)
    for digest in _digests(scope):
        if (content := recordings.content_of(digest)) is not None:
            yield f"recordings/{digest}", iter([content])


def _contents(scope: Scope) -> Iterator[bytes]:
    end = head()
    said = {
        "format": FORMAT,
        "version": VERSION,
        "made_at": clock.now().isoformat(),
        "of": scope.words,
        "student": None if scope.student is None else scope.student.pk,
        "rows": {table._meta.model_name: scope.rows(table).count() for table in TABLES},
        "chain": {"links": end.links, "ends_in": end.digest},
    }
    yield json.dumps(said, indent=1).encode()


def _rows(scope: Scope, table: type[Any]) -> Iterator[bytes]:
    fields = PERSON_FIELDS if table is Person else None
    for row in scope.rows(table).iterator(AT_ONCE):
        said = scope.as_written(row) if isinstance(row, Person) else row
        # As Django's own jsonl has it, which writes each value by itself and takes seven times as long.
        (written,) = serializers.serialize("python", [said], fields=fields)
        yield f"{json.dumps(written, cls=_Whole, ensure_ascii=False, separators=(',', ': '))}\n".encode()


def _signatures(scope: Scope) -> Iterator[Signature]:
    found: QuerySet[Signature] = scope.rows(Signature)
    return found.iterator(AT_ONCE)


def _sheet(signature: Signature) -> Iterator[bytes]:
    """One that cannot be read has its words beside it, and takes no archive with it."""
    try:
        yield sheet_pdf(as_signed(signature))
    except Unreadable:
        return


def _digests(scope: Scope) -> Iterator[str]:
    """Of the files that belong to it, each once."""
    kept: set[str] = set()
    for table in (Recorded, Waiting):
        for digest in scope.rows(table).values_list("digest", flat=True):
            if digest not in kept:
                kept.add(digest)
                yield digest


def as_csv(columns: Iterable[str], rows: Iterable[Iterable[object]]) -> Iterator[bytes]:
    """A name with its unit at the head of each column, and a row for each."""
    for row in chain((columns,), rows):
        out = StringIO()
        csv.writer(out).writerow(text_of(value) for value in row)
        yield out.getvalue().encode()


LINE = ("student", "instructor", "aircraft", "aircraft_name", "place", "lesson", "lesson_name", "figures")
SORTIE = ("sortie", "planned_for", "stage", *LINE, "cancelled", "signed_by", "signed_at", "sha256")
ATTEMPT = ("sortie", "number", "figure", "flown_by", "lost_ft", "briefed_ft", "grade", "faults", "corrected")
STUDENT = ("student", "name", "standing", "why", "course", "version", "began", "ended", "ended_why")


def _sorties_csv(scope: Scope) -> Iterator[bytes]:
    people = ("student__person", "instructor", "aircraft", "place", "signature__by")
    rows = scope.sorties().select_related(*people).defer("signature__document")
    yield from as_csv(SORTIE, (_sortie(row) for row in rows.order_by("planned_for", "pk").iterator(AT_ONCE)))


def _sortie(row: Sortie) -> Iterator[object]:
    line = stored_line(row)
    yield from (row.pk, row.planned_for.isoformat(), row.stage, *(line[name] for name in LINE), row.cancelled)
    if (signature := signature_of(row)) is not None:
        yield from (signature.by.name, signature.at.isoformat(), signature.digest)


def _attempts_csv(scope: Scope) -> Iterator[bytes]:
    rows: QuerySet[AttemptRow] = scope.rows(AttemptRow)
    yield from as_csv(ATTEMPT, (_attempt(row) for row in rows.order_by("sortie", "order").iterator(AT_ONCE)))


def _attempt(row: AttemptRow) -> Iterator[object]:
    attempt = row.corrected["attempt"] if row.corrected else row.attempt
    yield from (row.sortie_id, row.order, row.figure, attempt.get("flown_by"), row.lost_ft, row.briefed_ft)
    yield from (attempt.get("grade"), " ".join(attempt.get("faults", ())), "; ".join(row.corrections))


def _students_csv(scope: Scope) -> Iterator[bytes]:
    """A row for each course of each student."""
    rows: QuerySet[Student] = scope.rows(Student)
    found = rows.select_related("person").prefetch_related("enrolments__course")
    yield from as_csv(STUDENT, (row for student in found.iterator(AT_ONCE) for row in _courses(student)))


def _courses(student: Student) -> Iterator[list[object]]:
    who = [student.pk, student.person.name, student.stage_reached, student.standing_that_follows[1]]
    on = list(student.enrolments.all())
    for e in on:
        yield [*who, e.course.key, e.course.version, e.began, e.ended, e.ended_why]
    if not on:
        yield who
