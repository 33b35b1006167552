"""Who did what, and when: everything that is kept of it, from the tables in which it stands, the latest
first."""

import heapq
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from datetime import date, datetime, time, timedelta
from functools import partial
from typing import Any

from django.db.models import Q, QuerySet
from django.utils import timezone

from server import clock
from server.school.models import (
    Aircraft,
    BookingChange,
    Change,
    Correction,
    CourseVersion,
    Deed,
    Person,
    Place,
    Question,
    Recorded,
    Sortie,
    StageChange,
    Statement,
    Student,
)
from server.school.operations.comparing import differences

PAGE = 50
# Of what differs, so many are said in a line.
SAID = 3


@dataclass(frozen=True)
class Done:
    """One line. source, pk: where it stands; subject: "sortie 12", "student 3", "school" ..."""

    at: datetime
    source: str
    pk: int
    by_id: int | None
    by: str
    what: str
    subject: str
    words: str

    @property
    def cursor(self) -> str:
        return f"{self.at.isoformat()} {self.source} {self.pk}"


@dataclass(frozen=True)
class Asked:
    """Which lines. source: one of SOURCES; student: what concerns one student; until: the last day of it."""

    by: int | None = None
    source: str = ""
    student: int | None = None
    since: date | None = None
    until: date | None = None


@dataclass(frozen=True)
class Source:
    """A table of what people did. label: what the lines are called. of: whose row it is; sortie: whether it
    belongs to one."""

    label: str
    rows: Callable[[], QuerySet[Any]]
    done: Callable[[Any], tuple[str, str, str]]
    sortie: bool = True
    by: str = "by"
    at: str = "at"


def _changed(row: Change) -> tuple[str, str, str]:
    if row.before is None or row.after is None:
        words = "new" if row.before is None else "taken away"
    else:
        found = differences(row.before, row.after)
        said = [f"{d.place}: {d.stored} → {d.yours}" for d in found[:SAID]]
        words = "; ".join(said) + (f"; and {len(found) - SAID} more" if len(found) > SAID else "")
    return "changed", row.subject, words


def _of_sortie(row: Any) -> str:
    return f"sortie {row.sortie_id}"


def _asked(row: Question) -> tuple[str, str, str]:
    return "asked", _of_sortie(row), row.text


def _answered(row: Question) -> tuple[str, str, str]:
    return "answered", _of_sortie(row), row.answer


def _booked(row: BookingChange) -> tuple[str, str, str]:
    return "booking", _of_sortie(row), f"{row.what}: {row.before or '—'} → {row.after or '—'}"


SOURCES: dict[str, Source] = {
    "stage": Source(
        "Sorties moved on and signed",
        StageChange.objects.all,
        lambda row: ("moved on", _of_sortie(row), f"to {row.stage}"),
    ),
    "booking": Source("Bookings changed", BookingChange.objects.all, _booked),
    "correction": Source(
        "Corrections", Correction.objects.all, lambda row: ("corrected", _of_sortie(row), row.reason)
    ),
    "asked": Source("Questions", Question.objects.all, _asked),
    "answered": Source(
        "Answers",
        partial(Question.objects.exclude, answered_at=None),
        _answered,
        by="answered_by",
        at="answered_at",
    ),
    "recording": Source(
        "Recordings read in",
        partial(Recorded.objects.defer, "said", "traces"),
        lambda row: ("recording", _of_sortie(row), row.name),
    ),
    "change": Source("Changes to the school", Change.objects.all, _changed, sortie=False),
    "course": Source(
        "Courses",
        partial(CourseVersion.objects.exclude, by=None),
        lambda row: ("course", f"course {row.key}", f"version {row.version}"),
        sortie=False,
    ),
    "statement": Source(
        "Signatures and hours of elsewhere",
        Statement.objects.all,
        lambda row: (
            "recorded" if row.takes_back_id is None else "took back",
            f"person {row.person_id}",
            f"{row.requirement}, {row.what}: {row.signed_by}. {row.words}",
        ),
        sortie=False,
    ),
    "deed": Source(
        "Log-ins, saves, exports",
        Deed.objects.all,
        lambda row: (row.what, row.subject, row.words),
        sortie=False,
    ),
}
_ORDER = list(SOURCES)


def lines(asked: Asked, after: str = "", most: int = PAGE) -> list[Done]:
    """The latest first, from behind this one (its cursor). One query for each source asked for."""
    wanted = [asked.source] if asked.source else _ORDER
    found = [_rows(name, asked, after, most) for name in wanted]
    merged = heapq.merge(*found, key=lambda d: (d.at, -_ORDER.index(d.source), d.pk), reverse=True)
    return [line for line, _ in zip(merged, range(most), strict=False)]


def all_lines(asked: Asked) -> Iterator[Done]:
    """Every one, read page by page."""
    after = ""
    while page := lines(asked, after, 500):
        yield from page
        after = page[-1].cursor


def _rows(name: str, asked: Asked, after: str, most: int) -> list[Done]:
    source = SOURCES[name]
    rows = source.rows().select_related(source.by).filter(_filter(source, asked))
    if after:
        rows = rows.filter(_behind(name, source.at, after))
    return [
        Done(getattr(row, source.at), name, row.pk, *_who(getattr(row, source.by)), *source.done(row))
        for row in rows.order_by(f"-{source.at}", "-pk")[:most]
    ]


def _who(person: Person | None) -> tuple[int | None, str]:
    return (None, "") if person is None else (person.pk, person.name)


def _filter(source: Source, asked: Asked) -> Q:
    found = Q()
    if asked.by is not None:
        found &= Q(**{source.by: asked.by})
    if asked.since is not None:
        found &= Q(**{f"{source.at}__gte": _morning(asked.since)})
    if asked.until is not None:
        found &= Q(**{f"{source.at}__lt": _morning(asked.until + timedelta(days=1))})
    if asked.student is not None:
        found &= _concerns(source, asked.student)
    return found


def _concerns(source: Source, student: int) -> Q:
    if source.sortie:
        return Q(sortie__student=student)
    flown = Sortie.objects.filter(student=student).values_list("pk", flat=True)
    if source is SOURCES["statement"]:
        return Q(person__student=student)
    person = Student.objects.filter(pk=student).values_list("person", flat=True).first()
    subjects = [f"student {student}", f"person {person}", *(f"sortie {pk}" for pk in flown)]
    # A course is no student's.
    return Q(pk=None) if source is SOURCES["course"] else Q(subject__in=subjects)


def _morning(day: date) -> datetime:
    return datetime.combine(day, time(), timezone.get_current_timezone())


def _behind(name: str, at: str, after: str) -> Q:
    """Raises ValueError for what is no cursor."""
    when, source, pk = after.split(" ")
    place = datetime.fromisoformat(when)
    behind = Q(**{f"{at}__lt": place})
    if _ORDER.index(name) > _ORDER.index(source):
        return behind | Q(**{at: place})
    return behind | Q(**{at: place, "pk__lt": int(pk)}) if name == source else behind


def names_of(found: list[Done]) -> dict[str, str]:
    """What the subjects of these lines are called. A query for each kind of them that is there."""
    asked: dict[str, set[int]] = {
        kind: set() for kind in ("sortie", "student", "person", "aircraft", "place")
    }
    for line in found:
        kind, _, number = line.subject.partition(" ")
        if kind in asked and number.isdigit():
            asked[kind].add(int(number))
    names = {
        f"sortie {pk}": f"{name}, {clock.day_of(at):%d %b %Y}"
        for pk, name, at in Sortie.objects.filter(pk__in=asked["sortie"]).values_list(
            "pk", "student__person__name", "planned_for"
        )
    }
    for kind, rows, field in (
        ("student", Student.objects, "person__name"),
        ("person", Person.objects, "name"),
        ("aircraft", Aircraft.objects, "registration"),
        ("place", Place.objects, "name"),
    ):
        named = rows.filter(pk__in=asked[kind]).values_list("pk", field)
        names |= {f"{kind} {pk}": name for pk, name in named}
    return names
