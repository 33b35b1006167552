"""A school of many years, for measuring what waits on its size: the demo school's signed flights again and
again, each as complete as the first one (plan, entries, attempts, document, link of the chain), by students
and on days of their own. Invented data; nothing of it is flown or graded anew."""

import json
import re
from collections.abc import Callable, Iterator, Mapping, Sequence
from concurrent.futures import ThreadPoolExecutor
from copy import copy
from dataclasses import dataclass
from datetime import datetime, timedelta
from functools import cached_property, partial
from hashlib import sha256
from itertools import count, cycle, islice
from typing import Any, TypeVar

from django.db import transaction
from django.db.models import Count, Model

from keelturn.formats.chain import What, next_link
from server import recordings
from server.packing import pack
from server.school.models import (
    AttemptRow,
    ChainLink,
    Enrolment,
    EntryRow,
    GroundDone,
    Recorded,
    Signature,
    Sortie,
    StageChange,
    Student,
)
from server.school.operations.enrolling import count_standing
from server.school.operations.own import count_population
from server.school.operations.signing import digest_of

Row = TypeVar("Row", bound=Model)
# Whose flights come again: who has so many signed ones.
FEWEST = 6
# So many days after their first flight all of them come again, once more before.
LAP_DAYS = 250
TOGETHER = 50
MOMENT = r"20\d\d-\d\d-\d\dT\d\d:\d\d:\d\d(?:\.\d+)?(?:Z|\+00:00)"
IS_MOMENT = re.compile(MOMENT)


@dataclass(frozen=True)
class Copy:
    """Which flight, whose it becomes, and how much earlier it was."""

    of: "Flight"
    number: int
    student: Student
    earlier: timedelta

    def ident(self, ident: str) -> str:
        """Another than every other copy's."""
        return sha256(f"{ident} {self.number}".encode()).hexdigest()[:32]

    def moment(self, at: datetime) -> datetime:
        return at - self.earlier

    def recording(self, row: Recorded) -> bytes:
        """A file of its own, as every flight has."""
        content = recordings.content_of(row.digest)
        assert content is not None
        return content + b"\n" * (1 + self.number)

    def text(self, parts: list[str]) -> str:
        """Of a text that was taken apart at its moments and identities, which are every other part."""
        found = list(parts)
        for at in range(1, len(parts), 2):
            part = parts[at]
            moved = (
                self.moment(datetime.fromisoformat(part)).isoformat().replace("+00:00", "Z")
                if IS_MOMENT.fullmatch(part)
                else self.ident(part)
            )
            found[at] = f'"{moved}"'
        return "".join(found).replace(json.dumps(self.of.name), json.dumps(self.student.person.name))


class Flight:
    """One that comes again. Every attempt is flown twice: "f1" and "f1-again"."""

    def __init__(self, sortie: Sortie) -> None:
        self.sortie, self.name = sortie, sortie.student.person.name
        self.stages = list(sortie.stage_changes.all())
        self.attempts = [*sortie.attempts.all()]
        self.entries = [*sortie.entries.all()]
        self.recordings = list(sortie.recordings.all())
        idents = [one["id"] for row in self.entries for one in (row.entry, entry_again(row.entry))]
        self.moves = re.compile(f'"({"|".join(map(re.escape, [*idents, ""]))}{MOMENT})"')

    @cached_property
    def document(self) -> list[str]:
        said = json.loads(self.sortie.signature.document)
        said["attempts"] = [*said["attempts"], *map(again, said["attempts"])]
        said["entries"] = [both for one in said["entries"] for both in (one, entry_again(one))]
        said["accounts"] |= {f"{key}-again": found for key, found in said["accounts"].items()}
        return self.moves.split(json.dumps(said, ensure_ascii=False, sort_keys=True))

    @cached_property
    def noted(self) -> list[tuple[EntryRow, list[str]]]:
        both = [(row, one) for row in self.entries for one in (row.entry, entry_again(row.entry))]
        return [(row, self.moves.split(json.dumps(one, ensure_ascii=False))) for row, one in both]


def again(attempt: dict[str, Any]) -> dict[str, Any]:
    return attempt | {"id": f"{attempt['id']}-again"}


def entry_again(entry: dict[str, Any]) -> dict[str, Any]:
    return entry | {"id": f"{entry['id']}-again", "attempt": entry["attempt"] and f"{entry['attempt']}-again"}


def load_many(students: int, sorties: int, say: Callable[[str], None]) -> None:
    """Into the demo school, until it has so many. In parts of TOGETHER sorties, each whole."""
    flights = by_student()
    with transaction.atomic():
        new = list(more_students(students - Student.objects.count(), flights))
    wanted = sorties - Sortie.objects.count()
    to_come = islice(copies(new, flights, -(-wanted // len(new))), wanted)
    with ThreadPoolExecutor() as both:
        for done in count(TOGETHER, TOGETHER):
            part = list(islice(to_come, TOGETHER))
            if not part:
                break
            with transaction.atomic():
                fly(part, both)
            if done % 1000 == 0:
                say(f"{done} sorties of {wanted}")
    say("standings")
    for student in new:
        with transaction.atomic():
            count_standing(student)
    with transaction.atomic():
        count_population()


def by_student() -> dict[Student, list[Flight]]:
    found = dict[Student, list[Flight]]()
    for student in (
        Student.objects.annotate(n=Count("sorties")).filter(n__gte=FEWEST).select_related("person")
    ):
        signed = student.sorties.filter(stage="signed").select_related("signature", "student__person")
        found[student] = [Flight(sortie) for sortie in signed]
    return found


def more_students(wanted: int, flights: dict[Student, list[Flight]]) -> Iterator[Student]:
    """Each in the course of the one whose flights they fly."""
    # Who has a recorder more often: in the demo few do.
    likes = [*flights, *(s for s, flown in flights.items() if any(f.recordings for f in flown))]
    for n, like in zip(range(1, wanted + 1), cycle(likes), strict=False):
        person = copy(like.person)
        person.pk, person.username, person.name = None, f"many{n}", f"{like.person.name} {n}"
        person.email = f"many{n}@school.example"
        person._state.adding = True
        person.save()
        made = Student.objects.create(person=person, goal=like.goal)
        made.like = like  # type: ignore[attr-defined]
        for row in (*Enrolment.objects.filter(student=like), *GroundDone.objects.filter(student=like)):
            of_another(row, student=made).save()
        yield made


def of_another(row: Row, **changed: Any) -> Row:
    made = copy(row)
    made.pk = None
    made._state.adding = True
    for name, value in changed.items():
        setattr(made, name, value)
    return made


def copies(new: list[Student], flights: dict[Student, list[Flight]], each: int) -> Iterator[Copy]:
    """Of every student the latest first: as many as each, lap by lap into the past."""
    number = count(1)
    for nth in range(each):
        for student in new:
            of = flights[student.like]  # type: ignore[attr-defined]
            lap, at = divmod(nth, len(of))
            # Not everybody on the same day and hour.
            earlier = timedelta(days=LAP_DAYS * lap + student.pk % 7, minutes=15 * (student.pk % 16))
            yield Copy(of[-1 - at], next(number), student, earlier)


def fly(part: Sequence[Copy], both: ThreadPoolExecutor) -> None:
    sorties = Sortie.objects.bulk_create(
        of_another(
            one.of.sortie,
            student=one.student,
            planned_for=one.moment(one.of.sortie.planned_for),
            made_as=None,
            changed_at=one.moment(one.of.sortie.changed_at),
            # What belongs to a signed one is not added to: it is signed below.
            stage="debriefed",
        )
        for one in part
    )
    pairs = list(zip(part, sorties, strict=True))
    StageChange.objects.bulk_create(
        of_another(row, sortie=sortie, at=one.moment(row.at))
        for one, sortie in pairs
        for row in one.of.stages
    )
    AttemptRow.objects.bulk_create(
        of_another(row, sortie=sortie, attempt=attempt, order=row.order + shift)
        for one, sortie in pairs
        for row in one.of.attempts
        for attempt, shift in ((row.attempt, 0), (again(row.attempt), len(one.of.attempts)))
    )
    EntryRow.objects.bulk_create(
        of_another(
            row, sortie=sortie, entry=entry, ident=entry["id"], received_at=one.moment(row.received_at)
        )
        for one, sortie in pairs
        for row, parts in one.of.noted
        for entry in (json.loads(one.text(parts)),)
    )
    recorded = Recorded.objects.bulk_create(
        of_another(
            row, sortie=sortie, digest=recordings.keep(content), at=one.moment(row.at), size=len(content)
        )
        for one, sortie in pairs
        for row in one.of.recordings
        for content in (one.recording(row),)
    )
    kept = {(row.sortie_id, row.name): row for row in recorded}
    written = list(both.map(partial(sealed, kept), pairs))
    signatures = Signature.objects.bulk_create(
        of_another(
            one.of.sortie.signature,
            sortie=sortie,
            at=one.moment(one.of.sortie.signature.at),
            document=document,
            digest=digest,
            line=one.of.sortie.signature.line | {"student": one.student.person.name},
        )
        for (one, sortie), (document, digest) in zip(pairs, written, strict=True)
    )
    link(signatures)
    Sortie.objects.filter(pk__in=[s.pk for s in sorties]).update(stage="signed")


def sealed(kept: Mapping[tuple[int, str], Recorded], pair: tuple[Copy, Sortie]) -> tuple[bytes, str]:
    """The document, packed, and its digest. kept: the recordings of these, by sortie and name."""
    one, sortie = pair
    text = one.text(one.of.document)
    for row in one.of.recordings:
        mine = kept[sortie.pk, row.name]
        text = text.replace(row.digest, mine.digest).replace(f'"size": {row.size}', f'"size": {mine.size}')
    for name, value in (("sortie", sortie.pk), ("student_id", one.student.pk)):
        text = re.sub(rf'"{name}": \d+', f'"{name}": {value}', text)
    return pack(text), digest_of(text)


def link(signatures: list[Signature]) -> None:
    last = ChainLink.objects.last()
    before = None if last is None else last.link()
    made = []
    for row in signatures:
        before = next_link(before, What.SIGNED, row.pk, row.sortie_id, row.digest, row.at.isoformat())
        made.append(before)
    ChainLink.objects.bulk_create(
        ChainLink(
            number=one.number,
            what=one.what,
            subject=one.subject,
            sortie=one.sortie,
            covers=one.covers,
            at=one.at,
            before=one.before,
            digest=one.digest,
        )
        for one in made
    )
