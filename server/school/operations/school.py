"""The whole school, as its chief looks at it: what the core makes of what is stored, and how its data are
kept."""

from datetime import datetime, timedelta

from django.conf import settings
from django.db.models.fields.json import KeyTextTransform, KeyTransform

from keelturn.formats.reading import refused
from keelturn.progress.school import Known, SchoolSeen, school_seen
from server import clock
from server.backups import NotDone
from server.safe_keeping import Safe, keep, safe, try_it
from server.school.models import AttemptRow, Deed, DeedKind, Person, SchoolStandards, Student
from server.school.operations.enrolling import flown_of, ways_of
from server.school.operations.record import COUNTED_STAGES, attempt_kept
from server.school.permissions import Denied


def seen_by_the_chief(person: Person, days: int) -> SchoolSeen:
    """Of so many days until today. Seven queries. Raises Denied."""
    _require_chief(person)
    now = clock.now()
    students = list(Student.objects.select_related("person"))
    ways = ways_of(students, clock.day_of(now))
    return school_seen(
        _known(clock.morning_of(now) - timedelta(days=days)),
        {s.person.name: (way, ways[s.pk].flown) for s in students if (way := ways[s.pk].way) is not None},
        SchoolStandards.in_force().document(),
    )


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


def _known(since: datetime) -> list[Known]:
    """Debriefed attempts from then on, oldest first. One query."""
    rows = (
        AttemptRow.objects.filter(sortie__stage__in=COUNTED_STAGES, sortie__planned_for__gte=since)
        .annotate(
            lesson=KeyTextTransform("lesson", "sortie__plan"),
            minutes=KeyTransform("flight_min", "sortie__debrief"),
        )
        .select_related("sortie__student__person", "sortie__instructor", "sortie__aircraft")
        .defer("sortie__plan", "sortie__brief", "sortie__debrief", "sortie__card_kept", "sortie__place_kept")
        .order_by("sortie__planned_for", "sortie_id", "order")
    )
    found = []
    for row in rows:
        attempt = attempt_kept(row)
        if attempt is None:
            continue
        sortie = row.sortie
        found.append(
            Known(
                flown_of(row, attempt, row.lesson or ""),
                sortie.student.person.name,
                sortie.instructor.name,
                sortie.aircraft.registration,
                row.lost_ft,
                row.briefed_ft,
                row.deviation,
                row.minutes,
            )
        )
    return found
