"""What a student's own attempts say of what they lose, kept with each attempt and each flight."""

from collections.abc import Iterable
from datetime import datetime

from django.db.models import QuerySet
from pydantic import TypeAdapter

from keelturn.assess.briefed import Briefed
from keelturn.figures.catalogue import FIGURES
from keelturn.flying.deviations import LATEST, Deviation, OwnLoss, Population, own_losses, population_of
from server import clock
from server.school.models import AttemptRow, SchoolNumbers, Sortie, Student
from server.school.operations.record import COUNTED_STAGES

# The school's latest attempts that its population is counted from.
LATEST_OF_THE_SCHOOL = 4000
OWN = TypeAdapter(dict[str, OwnLoss])
BRIEFED = TypeAdapter(dict[str, Briefed])
POPULATION = TypeAdapter(Population)


def own_numbers(student: Student, at: datetime) -> dict[str, OwnLoss]:
    """For a flight at that time, from the flights before it, by figure; empty where nothing is known. Two
    queries."""
    row = SchoolNumbers.objects.filter(pk=1).first()
    population = Population() if row is None else POPULATION.validate_python(row.population)
    before = _counted().filter(sortie__student=student, sortie__planned_for__lt=at)
    seen = [deviation for _, deviation in _oldest_first(before, LATEST)]
    if not seen and not population.means:
        return {}
    today = clock.day_of(at).toordinal()
    return own_losses((figure.key for figure in FIGURES), seen, population, today)


def count_population() -> None:
    """The school's, anew. The caller's transaction. Five queries."""
    students: dict[int, list[Deviation]] = {}
    for student, deviation in _oldest_first(_counted(), LATEST_OF_THE_SCHOOL):
        students.setdefault(student, []).append(deviation)
    found = POPULATION.dump_python(population_of(students.values()), mode="json")
    SchoolNumbers.objects.update_or_create(pk=1, defaults={"population": found, "at": clock.now()})


def _counted() -> QuerySet[AttemptRow]:
    return AttemptRow.objects.exclude(deviation=None).filter(sortie__stage__in=COUNTED_STAGES)


def _oldest_first(found: QuerySet[AttemptRow], latest: int) -> Iterable[tuple[int, Deviation]]:
    """Whose, and what, of the latest of them. One query."""
    rows = found.order_by("-sortie__planned_for", "-sortie_id", "-order").values_list(
        "sortie__student_id", "figure", "sortie__planned_for", "deviation"
    )
    return [
        (student, Deviation(figure, clock.day_of(at).toordinal(), deviation or 0.0))
        for student, figure, at, deviation in reversed(rows[:latest])
    ]


def own_kept(sortie: Sortie) -> dict[str, OwnLoss]:
    """As they were when it was flown."""
    return OWN.validate_python(sortie.own_kept or {})


def briefed_kept(sortie: Sortie) -> dict[str, Briefed]:
    """By the planned figure's id; none before it is flown."""
    return BRIEFED.validate_python(sortie.briefed_kept or {})
