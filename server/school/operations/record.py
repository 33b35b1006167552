"""A student's record, read for showing: attempts over time, faults and their trend, standards reached."""

from collections import Counter
from itertools import groupby

from keelturn.assess.attempts import Attempt
from keelturn.figures.catalogue import figure_of
from keelturn.figures.figure import fault_of
from keelturn.formats.reading import read_document
from server.school.models import AttemptRow, Sortie, Student

FLOWN_STAGES = ("flown", "debriefed", "signed")


def attempt_rows(student: Student) -> list[AttemptRow]:
    """Every attempt flown, oldest first. One query."""
    return list(
        AttemptRow.objects.filter(sortie__student=student, sortie__stage__in=FLOWN_STAGES)
        .select_related("sortie")
        .order_by("sortie__planned_for", "sortie_id", "order")
    )


def by_lesson(rows: list[AttemptRow]) -> list[list[Attempt]]:
    return [
        [read_document(Attempt, row.attempt) for row in group]
        for _, group in groupby(rows, key=lambda row: row.sortie_id)
    ]


def faults_last_time(sortie: Sortie, most: int = 3) -> list[str]:
    """The faults noted most often in the student's last lesson, in words. One query."""
    rows = [
        row
        for row in attempt_rows(sortie.student)
        if row.sortie_id != sortie.pk and row.sortie.planned_for < sortie.planned_for
    ]
    last = [read_document(Attempt, row.attempt) for row in rows if row.sortie_id == rows[-1].sortie_id]
    counted = Counter(
        fault.words for a in last for key in a.faults if (fault := fault_of(figure_of(a.planned.key), key))
    )
    return [words for words, _ in counted.most_common(most)]


def earlier_faults(sortie: Sortie, most: int = 3) -> dict[str, list[str]]:
    """Faults this student made in the last flight of each figure before this sortie, in words, by figure key.
    One query."""
    found: dict[str, list[str]] = {}
    rows = (
        AttemptRow.objects.filter(
            sortie__student=sortie.student_id,
            sortie__stage__in=FLOWN_STAGES,
            sortie__planned_for__lt=sortie.planned_for,
        )
        .order_by("-sortie__planned_for", "order")
        .values_list("figure", "attempt", "sortie_id")
    )
    lesson_of_figure: dict[str, int] = {}
    for figure, attempt, lesson in rows:
        if lesson_of_figure.setdefault(figure, lesson) != lesson:
            continue
        for key in attempt["faults"]:
            fault = fault_of(figure_of(figure), key)
            words = found.setdefault(figure, [])
            if fault is not None and fault.words not in words and len(words) < most:
                words.append(fault.words)
    return found
