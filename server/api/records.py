"""Records that last: the chain through everything signed, who did what, exports, erasing."""

from collections.abc import Iterable, Iterator
from datetime import date
from typing import Annotated

from django.http import HttpRequest, StreamingHttpResponse
from ninja import Query, Router

from keelturn.formats.reading import refused
from server import clock
from server.api.doors import REFUSALS, a_file, asking, seen_student
from server.api.people import person_of
from server.api.records_schemas import (
    AuditOut,
    CheckIn,
    CheckOut,
    DoneOut,
    ErasedOut,
    EraseIn,
    RecordsOut,
    SourceOut,
    WhoOut,
    WouldGoOut,
)
from server.api.schemas import Id
from server.school.lasting import audit, erasing
from server.school.lasting.exporting import archive_of, as_csv
from server.school.lasting.following import look
from server.school.lasting.scope import Scope
from server.school.models import Correction, Deed, DeedKind, Erasure, Person, Signature
from server.school.operations.chaining import head
from server.school.permissions import require_chief

router = Router(tags=["records"])
ZIP = "application/zip"
# To which link the chain was followed in a session, and held.
SOUND_TO = "chain_sound_to"


@router.get("/records", response={200: RecordsOut, **REFUSALS})
def records(request: HttpRequest) -> RecordsOut:
    require_chief(asking(request), "the school's records")
    end = head()
    checked = Deed.objects.filter(what=DeedKind.CHECKED).select_related("by").first()
    return RecordsOut(
        links=end.links,
        ends_in=end.digest,
        signed=Signature.objects.count(),
        corrections=Correction.objects.count(),
        checked_at=None if checked is None else checked.at,
        checked_by=checked.by.name if checked is not None and checked.by else "",
        erased=list(_erased()),
    )


def _erased() -> Iterator[ErasedOut]:
    last = {row.person: row for row in Erasure.objects.select_related("by")}
    kept = erasing.signed_of(last)
    for row in last.values():
        yield ErasedOut(
            person=row.person,
            at=row.at,
            by=row.by.name,
            reason=row.reason,
            kept_until=row.kept_until,
            kept=kept.get(row.person, 0),
        )


@router.post("/records/check", response={200: CheckOut, **REFUSALS})
def check(request: HttpRequest, data: CheckIn) -> CheckOut:
    """Some links after this one: asked for again and again until the last. That all of it held is kept only
    where all of it was looked at, in this session and in its order."""
    person = asking(request)
    require_chief(person, "the school's records")
    found = look(data.after)
    sound = not found.faults and (data.after == 0 or request.session.get(SOUND_TO) == data.after)
    request.session[SOUND_TO] = found.to if sound else None
    if sound and found.to >= found.of.links:
        Deed.note_once(person, DeedKind.CHECKED, "school", f"{found.of.links} links")
    return CheckOut(to=found.to, of=found.of.links, ends_in=found.of.digest, faults=list(found.faults))


By = Annotated[int | None, Query(ge=1, le=2**31)]
Named = Annotated[str, Query(max_length=20)]
After = Annotated[str, Query(max_length=80)]


def _asked(
    by: int | None, source: str, student: int | None, since: date | None, until: date | None
) -> audit.Asked:
    if source and source not in audit.SOURCES:
        raise refused("source", f"nothing is kept of '{source}'", "Choose one of those that are offered.")
    return audit.Asked(by, source, student, since, until)


@router.get("/audit", response={200: AuditOut, **REFUSALS})
def who_did_what(
    request: HttpRequest,
    by: By = None,
    source: Named = "",
    student: By = None,
    since: date | None = None,
    until: date | None = None,
    after: After = "",
) -> AuditOut:
    """The latest first."""
    require_chief(asking(request), "who did what")
    try:
        found = audit.lines(_asked(by, source, student, since, until), after)
    except (ValueError, KeyError) as error:
        raise refused("after", "that is no place in the list", "Begin again at the top.") from error
    return AuditOut(
        lines=list(_shown(found)),
        next=found[-1].cursor if len(found) == audit.PAGE else "",
        people=[WhoOut(id=p.pk, name=p.name) for p in Person.objects.order_by("name")],
        sources=[SourceOut(key=key, label=one.label) for key, one in audit.SOURCES.items()],
    )


PAGES = {"sortie": "/sorties/", "student": "/students/"}


def _shown(found: list[audit.Done]) -> Iterator[DoneOut]:
    names = audit.names_of(found)
    for line in found:
        kind, _, number = line.subject.partition(" ")
        there = line.subject in names
        yield DoneOut(
            at=line.at,
            by=line.by,
            what=line.what,
            name=names.get(line.subject, line.subject),
            to=f"{PAGES[kind]}{number}" if there and kind in PAGES else "",
            words=line.words,
        )


@router.get("/audit.csv", response=REFUSALS, openapi_extra=a_file("text/csv"))
def who_did_what_as_table(
    request: HttpRequest,
    by: By = None,
    source: Named = "",
    student: By = None,
    since: date | None = None,
    until: date | None = None,
) -> StreamingHttpResponse:
    require_chief(asking(request), "who did what")
    asked = _asked(by, source, student, since, until)
    rows = ((d.at.isoformat(), d.by, d.what, d.subject, d.words) for d in audit.all_lines(asked))
    table = as_csv(("at", "by", "what", "subject", "words"), rows)
    return _streamed(table, "text/csv; charset=utf-8", "who-did-what.csv")


def _streamed(content: Iterable[bytes], kind: str, name: str) -> StreamingHttpResponse:
    return StreamingHttpResponse(
        content, content_type=kind, headers={"Content-Disposition": f'attachment; filename="{name}"'}
    )


@router.get("/export.zip", response=REFUSALS, openapi_extra=a_file(ZIP))
def export(request: HttpRequest) -> StreamingHttpResponse:
    """Everything of the school."""
    person = asking(request)
    require_chief(person, "what leaves the school")
    return _exported(person, Scope(), "school", "school")


@router.get("/students/{student_id}/export.zip", response=REFUSALS, openapi_extra=a_file(ZIP))
def export_student(request: HttpRequest, student_id: Id) -> StreamingHttpResponse:
    """Everything of one student. Who asks for their own gets what has been debriefed: before that it says
    what they are not told yet."""
    person, student = asking(request), seen_student(request, student_id)
    if student.person_id != person.pk:
        require_chief(person, "what leaves the school")
    scope = Scope(student, open_too=person.is_chief)
    return _exported(person, scope, f"student {student.pk}", f"student-{student.pk}")


def _exported(person: Person, scope: Scope, subject: str, name: str) -> StreamingHttpResponse:
    Deed.note(person, DeedKind.EXPORTED, subject, scope.words)
    day = clock.day_of(clock.now())
    return _streamed(archive_of(scope), ZIP, f"keelturn-{name}-{day:%Y%m%d}.zip")


@router.get("/people/{person_id}/erasing", response={200: WouldGoOut, **REFUSALS})
def would_go(request: HttpRequest, person_id: Id) -> WouldGoOut:
    require_chief(asking(request), "who is erased")
    person = person_of(person_id)
    return WouldGoOut(name=person.name, **vars(erasing.what_would_go(person)))


@router.post("/people/{person_id}/erase", response={200: RecordsOut, **REFUSALS})
def erase(request: HttpRequest, person_id: Id, data: EraseIn) -> RecordsOut:
    require_chief(asking(request), "who is erased")
    erasing.erase(asking(request), person_of(person_id), data.reason, data.kept_until, data.password)
    return records(request)
