"""An export put into an empty installation: everything is checked, and all of it is taken or nothing."""

import hashlib
import json
from collections.abc import Iterator
from dataclasses import dataclass
from io import TextIOWrapper
from itertools import islice
from pathlib import Path
from typing import Any
from zipfile import BadZipFile, ZipFile

from django.contrib.auth.hashers import make_password
from django.core import serializers
from django.core.serializers.base import DeserializationError
from django.db import DatabaseError, IntegrityError, connection, transaction
from django.db.models import Model

from keelturn.formats.chain import What
from keelturn.formats.reading import Refused, refused
from server import clock, recordings
from server.school.lasting.exporting import AT_ONCE, CONTENTS, FORMAT, SUMS, VERSION
from server.school.lasting.following import look_at_all
from server.school.lasting.scope import TABLES, name_of
from server.school.models import ChainLink, Correction, Deed, DeedKind, Person, Signature, Sortie
from server.school.operations.chaining import add_link
from server.school.operations.signing import covered_of

# Bytes that are read at once where a digest is made.
BLOCK = 1 << 20


@dataclass(frozen=True)
class Taken:
    """of: what the export said that it is of; rows: how many were taken; signed: the signed records among
    them, each as it was signed; chiefs: who can log in as chief once they have a password."""

    of: str
    rows: int
    signed: int
    chiefs: tuple[Person, ...]


def take_export(path: Path) -> Taken:
    """Raises Refused, and then nothing has been stored."""
    try:
        with ZipFile(path) as archive:
            return _taken(archive)
    except (OSError, BadZipFile) as error:
        raise refused("file", f"it is no archive that can be read ({error})", _AGAIN) from error


_AGAIN = "Give an archive as it was exported, whole."


def _taken(archive: ZipFile) -> Taken:
    sums = _checked(archive)
    said = _contents(archive)
    if Person.objects.exists() or Sortie.objects.exists():
        raise refused(
            "school",
            "there is a school here already",
            "Take an export into an empty installation: name a new folder with KEELTURN_DATA.",
        )
    whole = said.get("student") is None
    new = _files(archive)
    try:
        with transaction.atomic():
            # Rows may refer to later ones; looked at as a whole before they are committed.
            rows = sum(_table(archive, table, whole) for table in TABLES)
            signed = list(Signature.objects.values_list("sortie", flat=True))
            Sortie.objects.filter(pk__in=signed).update(stage="signed")
            if not whole:
                _chained_anew(sums)
            Deed.note(None, DeedKind.IMPORTED, "school", f"{said.get('of')}, made {said.get('made_at')}")
            connection.check_constraints()
            if faults := look_at_all().faults:
                raise refused("records", f"they do not hold: {faults[0]}", _AGAIN)
    except (DatabaseError, Refused) as error:
        for digest in new:
            recordings.drop(digest)
        if isinstance(error, Refused):
            raise
        raise refused("tables", f"the rows do not belong together ({error})", _AGAIN) from error
    chiefs = tuple(Person.objects.filter(role="chief", is_active=True).order_by("pk"))
    return Taken(str(said.get("of")), rows, len(signed), chiefs)


def _checked(archive: ZipFile) -> str:
    """Every file read and compared with the checksums; the digest of these."""
    names = {info.filename for info in archive.infolist()}
    if SUMS not in names or CONTENTS not in names:
        raise refused("file", f"it has no {CONTENTS} with checksums in it", _AGAIN)
    lines = archive.read(SUMS)
    sums = {line[66:]: line[:64] for line in lines.decode().splitlines()}
    for name in sorted(names - {SUMS}):
        if name not in sums:
            raise refused(name, "it is not among the checksums", _AGAIN)
        if _digest(archive, name) != sums.pop(name):
            raise refused(name, "it is not as it was exported: its checksum differs", _AGAIN)
    if sums:
        raise refused(min(sums), "it is missing from the archive", _AGAIN)
    return hashlib.sha256(lines).hexdigest()


def _digest(archive: ZipFile, name: str) -> str:
    total = hashlib.sha256()
    with archive.open(name) as file:
        while block := file.read(BLOCK):
            total.update(block)
    return total.hexdigest()


def _contents(archive: ZipFile) -> dict[str, Any]:
    try:
        said = json.loads(archive.read(CONTENTS))
    except ValueError as error:
        raise refused(CONTENTS, f"it cannot be read ({error})", _AGAIN) from error
    if not isinstance(said, dict) or said.get("format") != FORMAT:
        raise refused(CONTENTS, f"the format is not '{FORMAT}'", _AGAIN)
    if said.get("version") != VERSION:
        what = f"version {said.get('version')} of the format is not known here"
        raise refused(CONTENTS, what, "Take it with the program that wrote it, or a later one.")
    return said


def _table(archive: ZipFile, table: type[Model], whole: bool) -> int:
    """The rows of one table stored; how many. Raises Refused."""
    name = name_of(table)
    if (table is ChainLink and not whole) or name not in archive.namelist():
        # One that an older program wrote has no rows of tables that came later.
        return 0
    count = 0
    with archive.open(name) as file:
        rows = _read(name, table, TextIOWrapper(file, encoding="utf-8"))
        while made := list(islice(rows, AT_ONCE)):
            try:
                table._default_manager.bulk_create(made)
            except (IntegrityError, ValueError, TypeError) as error:
                what = f"its rows from {count + 1} on are not taken ({error})"
                raise refused(name, what, _AGAIN) from error
            count += len(made)
    return count


def _read(name: str, table: type[Model], lines: TextIOWrapper) -> Iterator[Model]:
    for number, line in enumerate(lines, start=1):
        try:
            (found,) = serializers.deserialize("jsonl", line)
            row = found.object
            if not isinstance(row, table):
                raise ValueError(f"that is a {type(row).__name__}")
        except (DeserializationError, ValueError, TypeError, AttributeError) as error:
            raise refused(f"{name}, line {number}", f"it is no row of it ({error})", _AGAIN) from error
        if isinstance(row, Person):
            # Whoever comes in sets a password first.
            row.password = make_password(None)
        if isinstance(row, Sortie) and row.stage == "signed":
            # The database locks a signed one; it is marked when all that belongs to it is there.
            row.stage = "debriefed"
        yield row


def _chained_anew(sums: str) -> None:
    """A student's records come without those between them: they begin a chain of their own, behind the
    checksums of what was taken."""
    now = clock.now()
    add_link(What.IMPORTED, 0, 0, sums, now)
    found: list[Signature | Correction] = [
        *Signature.objects.defer("document"),
        *Correction.objects.all(),
    ]
    for row in sorted(found, key=lambda one: (one.at, isinstance(one, Correction), one.pk)):
        if isinstance(row, Signature):
            add_link(What.SIGNED, row.pk, row.sortie_id, row.digest, row.at)
        else:
            add_link(What.CORRECTED, row.pk, row.sortie_id, covered_of(row), row.at)


def _files(archive: ZipFile) -> list[str]:
    """Recordings kept under their digests; those that were not there before."""
    new = []
    for name in archive.namelist():
        if not name.startswith("recordings/"):
            continue
        content = archive.read(name)
        digest = name.partition("/")[2]
        if recordings.digest_of(content) != digest:
            raise refused(name, "it is not what its name says", _AGAIN)
        if recordings.content_of(digest) is None:
            new.append(digest)
        recordings.keep(content)
    return new
