"""A student's record, read for showing: attempts over time, faults and their trend, standards reached."""

from collections import Counter
from collections.abc import Sequence
from itertools import groupby

from django.db.models import OuterRef, Subquery

from keelturn.figures.catalogue import figure_of
from keelturn.figures.figure import fault_of
from keelturn.formats.reading import Unreadable, read_stored
from keelturn.noting.attempt import Attempt
from server.school.models import AttemptRow, Sortie, Student

FLOWN_STAGES = ("flown", "debriefed", "signed")
OPEN_STAGES = ("planned", "briefed", "flown", "debriefed")
# Flights whose debrief is done: what counts toward a state, and in a student's own numbers.
COUNTED_STAGES = ("debriefed", "signed")


def attempt_rows(student: Student) -> list[AttemptRow]:
    """Every attempt flown, oldest first. One query."""
    return attempt_rows_of([student])


def attempt_rows_of(students: Sequence[Student]) -> list[AttemptRow]:
    """Every attempt that these flew, oldest first. One query."""
    return list(
        AttemptRow.objects.filter(sortie__student__in=students, sortie__stage__in=FLOWN_STAGES)
        .select_related("sortie")
        .only(
            "attempt",
            "corrected",
            "order",
            "figure",
            "lost_ft",
            "briefed_ft",
            "deviation",
            "sortie__briefed_kept",
            "sortie__student",
            "sortie__planned_for",
            "sortie__stage",
        )
        .order_by("sortie__planned_for", "sortie_id", "order")
    )


def attempt_kept(row: AttemptRow) -> Attempt | None:
    """As it counts, with what was corrected of it after signing. None for one that cannot be read: it takes
    no list with it."""
    try:
        kept = row.corrected["attempt"] if row.corrected else row.attempt
        return read_stored(Attempt, kept, "attempt")
    except Unreadable:
        return None


def corrections_of(sortie: Sortie) -> dict[str, list[str]]:
    """What was corrected of each attempt after signing, in words, by its id. One query."""
    return {str(row.attempt.get("id")): row.corrections for row in sortie.attempts.all() if row.corrected}


def lessons_before(sortie: Sortie) -> list[list[Attempt]]:
    """What this sortie's student flew in the lessons before it, oldest first. One query."""
    rows = [r for r in attempt_rows_of([sortie.student]) if r.sortie.planned_for < sortie.planned_for]
    return by_lesson(rows)


def by_lesson(rows: list[AttemptRow]) -> list[list[Attempt]]:
    return [
        [attempt for row in group if (attempt := attempt_kept(row)) is not None]
        for _, group in groupby(rows, key=lambda row: row.sortie_id)
    ]


def faults_last_time(sorties: Sequence[Sortie], most: int = 3) -> dict[int, list[str]]:
    """The faults noted most often in the last lesson that each of these sorties' students flew before it, in
    words, by the sortie's id. Two queries, whatever their number; none for no sorties."""
    if not sorties:
        return {}
    before = Sortie.objects.filter(
        student=OuterRef("student"), stage__in=FLOWN_STAGES, planned_for__lt=OuterRef("planned_for")
    ).order_by("-planned_for", "-pk")
    last = dict(
        Sortie.objects.filter(pk__in=[s.pk for s in sorties])
        .annotate(last=Subquery(before.values("pk")[:1]))
        .values_list("pk", "last")
    )
    counted: dict[int | None, Counter[str]] = {pk: Counter() for pk in last.values()}
    for row in AttemptRow.objects.filter(sortie__in=set(last.values()) - {None}).order_by("sortie", "order"):
        attempt = attempt_kept(row)
        for key in attempt.faults if attempt is not None else ():
            if (fault := fault_of(figure_of(row.figure), key)) is not None:
                counted[row.sortie_id][fault.words] += 1
    return {pk: [words for words, _ in counted[before].most_common(most)] for pk, before in last.items()}


def earlier_faults(sortie: Sortie, most: int = 3) -> dict[str, list[str]]:
    """Faults this student made in the last flight of each figure before this sortie, in words, by figure key.
    Two queries; only what was flown last is read."""
    before = AttemptRow.objects.filter(
        sortie__student=sortie.student_id,
        sortie__stage__in=FLOWN_STAGES,
        sortie__planned_for__lt=sortie.planned_for,
    ).order_by("-sortie__planned_for", "order")
    last, wanted = dict[str, int](), list[int]()
    for pk, figure, lesson in before.values_list("pk", "figure", "sortie"):
        if last.setdefault(figure, lesson) == lesson:
            wanted.append(pk)
    found: dict[str, list[str]] = {}
    for row in before.filter(pk__in=wanted):
        attempt = attempt_kept(row)
        for key in attempt.faults if attempt is not None else ():
            fault = fault_of(figure_of(row.figure), key)
            words = found.setdefault(row.figure, [])
            if fault is not None and fault.words not in words and len(words) < most:
                words.append(fault.words)
    return found
