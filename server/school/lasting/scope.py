"""What goes into an export: of the whole school, or of one student; table by table, those first that others
refer to."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any

from django.db.models import ForeignKey, Model, Q, QuerySet

from server.school.models import (
    Aircraft,
    AttemptRow,
    BookingChange,
    BriefRead,
    ChainLink,
    Change,
    Correction,
    CourseVersion,
    Deed,
    DueDate,
    Enrolment,
    EntryRow,
    Erased,
    Erasure,
    GroundDone,
    Person,
    Place,
    Question,
    Recorded,
    School,
    SchoolNumbers,
    SchoolStandards,
    SheetRead,
    Signature,
    Sortie,
    StageChange,
    Statement,
    Student,
    Taken,
    Waiting,
    WeatherRead,
)
from server.school.operations.record import COUNTED_STAGES

# In the order in which they can be put back.
TABLES: tuple[type[Model], ...] = (
    Person,
    Student,
    Aircraft,
    DueDate,
    Taken,
    Statement,
    Place,
    School,
    SchoolStandards,
    SchoolNumbers,
    WeatherRead,
    CourseVersion,
    Enrolment,
    GroundDone,
    Sortie,
    BookingChange,
    EntryRow,
    AttemptRow,
    StageChange,
    BriefRead,
    Question,
    Recorded,
    Signature,
    SheetRead,
    Correction,
    Waiting,
    Change,
    Erasure,
    Erased,
    ChainLink,
    Deed,
)
# Passwords, and what lets somebody in, leave with nobody.
PERSON_FIELDS = ("username", "name", "role", "weight_lb", "email", "is_active", "date_joined")
# What belongs to a sortie, and what to a student.
OF_SORTIE = (
    BookingChange,
    EntryRow,
    AttemptRow,
    StageChange,
    BriefRead,
    Question,
    Recorded,
    Signature,
    SheetRead,
    Correction,
)
OF_STUDENT = (Enrolment, GroundDone)
OF_ALL = (School, SchoolStandards, SchoolNumbers, CourseVersion)


@dataclass(frozen=True)
class Scope:
    """student: the one whose all it is, None for the whole school. open_too: also the sorties whose debrief
    is not done."""

    student: Student | None = None
    open_too: bool = True

    @property
    def words(self) -> str:
        if self.student is None:
            return "the whole school"
        return f"student {self.student.pk}" + ("" if self.open_too else ", what has been debriefed")

    def sorties(self) -> QuerySet[Sortie]:
        if self.student is None:
            return Sortie.objects.all()
        mine = Sortie.objects.filter(student=self.student)
        return mine if self.open_too else mine.filter(stage__in=COUNTED_STAGES)

    def rows(self, table: type[Model]) -> QuerySet[Any]:
        """In the order of their keys."""
        return self._rows(table).order_by("pk")

    def _rows(self, table: type[Model]) -> QuerySet[Any]:
        everything: QuerySet[Any] = table._default_manager.all()
        student = self.student
        if student is None or table in OF_ALL:
            return everything
        if table in OF_SORTIE:
            return everything.filter(sortie__in=self.sorties())
        if table in OF_STUDENT:
            return everything.filter(student=student)
        chosen: dict[type[Model], Callable[[], Q]] = {
            Person: lambda: Q(pk__in=self._people()),
            Student: lambda: Q(pk=student.pk),
            Sortie: lambda: Q(pk__in=self.sorties()),
            # Their instructors' are nobody else's to take along.
            DueDate: lambda: Q(person=student.person_id) | Q(aircraft__in=self.sorties().values("aircraft")),
            Taken: lambda: Q(person=student.person_id),
            Statement: lambda: Q(person=student.person_id),
            Aircraft: lambda: Q(pk__in=self.sorties().values("aircraft")),
            Place: lambda: Q(pk__in=self.sorties().values("place")),
            Change: lambda: Q(subject=f"student {student.pk}"),
            ChainLink: lambda: Q(sortie__in=self.sorties()),
            Deed: lambda: Q(by=student.person_id),
        }
        return everything.filter(chosen[table]()) if table in chosen else everything.none()

    def _people(self) -> set[int]:
        """Everybody whom a row refers to."""
        found: set[int] = set()
        for table in TABLES[1:]:
            for name in _people_fields(table):
                found |= set(self._rows(table).exclude(**{name: None}).values_list(name, flat=True))
        return found

    def as_written(self, person: Person) -> Person:
        """Of the others in a student's export only what their rows show: the name and the role."""
        if self.student is None or person.pk == self.student.person_id:
            return person
        blank = Person(username=f"person-{person.pk}", name=person.name, role=person.role, is_active=False)
        blank.pk, blank.date_joined = person.pk, person.date_joined
        return blank


def _people_fields(table: type[Model]) -> Iterator[str]:
    for field in table._meta.get_fields():
        if isinstance(field, ForeignKey) and issubclass(field.related_model, Person):
            yield field.name


def name_of(table: type[Model]) -> str:
    """The file that its rows stand in."""
    return f"tables/{table._meta.model_name}.jsonl"
