"""The whole school, as its chief looks at it: what the core makes of what is stored, and how its data are
kept."""

from dataclasses import astuple
from datetime import datetime, timedelta
from typing import Any

from django.conf import settings
from django.db.models.fields.json import KeyTransform
from pydantic import TypeAdapter

from keelturn.formats.reading import refused
from keelturn.progress.school import (
    AttemptSeen,
    FlightSeen,
    SchoolSeen,
    StuckOn,
    attempt_seen,
    school_seen,
    stuck_on,
)
from server import clock
from server.backups import NotDone
from server.safe_keeping import Safe, keep, safe, try_it
from server.school.models import AttemptRow, Deed, DeedKind, Person, SchoolStandards, Sortie, Student
from server.school.models.kept import Of
from server.school.operations.enrolling import ways_of
from server.school.operations.kept import kept, kept_of_each
from server.school.operations.record import COUNTED_STAGES, attempt_kept
from server.school.permissions import Denied

SEEN = TypeAdapter(SchoolSeen)
# Of which the page is shown first.
DAYS = 365


def seen_by_the_chief(person: Person, days: int) -> SchoolSeen:
    """Of so many days until today. Raises Denied. One query where it is kept."""
    _require_chief(person)
    return seen(days)


def seen(days: int) -> SchoolSeen:
    """Whoever asks."""
    today = clock.day_of(clock.now())
    said = kept(Of.SCHOOL, 0, f"{days} days", today, lambda: SEEN.dump_python(_seen(days), mode="json"))
    return SEEN.validate_python(said)


def _seen(days: int) -> SchoolSeen:
    return school_seen(_flights(clock.morning_of(clock.now()) - timedelta(days=days)), _stuck())


def _require_chief(person: Person) -> None:
    if not person.is_chief:
        raise Denied("only the chief instructor sees the school as a whole")


def how_it_is_kept(person: Person) -> Safe:
    """Raises Denied."""
    _require_chief(person)
    return safe(settings.SCHEDULED, clock.now(), settings.BACKUP_EVERY_H)


def back_up(person: Person) -> Safe:
    """What became of it is in the answer, whatever it was. Raises Denied."""
    _require_chief(person)
    made = keep(settings.DATA, settings.SCHEDULED, clock.now())
    Deed.note(person, DeedKind.BACKED_UP, "school", made.archive or made.words)
    return how_it_is_kept(person)


def try_restoring(person: Person) -> Safe:
    """The same. Raises Denied, and Refused where there is nothing to try."""
    _require_chief(person)
    try:
        try_it(settings.SCHEDULED, clock.now())
    except NotDone as error:
        raise refused("backup", str(error), "Make one first.") from error
    return how_it_is_kept(person)


def _flights(since: datetime) -> list[FlightSeen]:
    """Debriefed ones from then on, oldest first."""
    rows = (
        Sortie.objects.filter(stage__in=COUNTED_STAGES, planned_for__gte=since)
        .annotate(minutes=KeyTransform("flight_min", "debrief"))
        .order_by("planned_for", "pk")
        .values_list(
            "pk",
            "planned_for",
            "student__person__name",
            "instructor__name",
            "aircraft__registration",
            "minutes",
        )
    )
    flown = list(rows)
    seen = attempts_seen([pk for pk, *_ in flown])
    return [
        FlightSeen(pk, clock.day_of(at), student, instructor, aircraft, minutes, seen[pk])
        for pk, at, student, instructor, aircraft, minutes in flown
    ]


def attempts_seen(sorties: list[int]) -> dict[int, tuple[AttemptSeen, ...]]:
    """Of each of these. One query where they are kept."""
    found = kept_of_each(Of.SORTIE, sorties, "seen", None, _count_attempts)
    return {pk: tuple(AttemptSeen(*one) for one in found[pk]) for pk in sorties}


def _count_attempts(sorties: list[int]) -> dict[int, list[Any]]:
    """What is seen of each attempt of these, as lists. Two queries."""
    standards = SchoolStandards.in_force().document()
    found: dict[int, list[Any]] = {pk: [] for pk in sorties}
    for row in AttemptRow.objects.filter(sortie__in=sorties).order_by("sortie_id", "order"):
        if (attempt := attempt_kept(row)) is not None:
            seen = attempt_seen(attempt, row.lost_ft, row.briefed_ft, row.deviation, standards)
            found[row.sortie_id].append(astuple(seen))
    return found


def _stuck() -> dict[str, list[StuckOn]]:
    """By the student's name."""
    today = clock.day_of(clock.now())
    students = {s.pk: s for s in Student.objects.select_related("person")}

    def count(numbers: list[int]) -> dict[int, list[Any]]:
        ways = ways_of([students[n] for n in numbers], today)
        return {
            n: [] if (way := ways[n].way) is None else [astuple(one) for one in stuck_on(way, ways[n].flown)]
            for n in numbers
        }

    found = kept_of_each(Of.STUDENT, students, "stuck", today, count)
    return {students[n].person.name: [StuckOn(*one) for one in on] for n, on in found.items()}
