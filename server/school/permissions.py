"""Who may do what. Deny by default: everything the API hands out goes through one of these.

A student sees only their own sorties and record. An instructor sees the school's students and sorties,
changes their own, and may take over, move or cancel any that is not flown yet, puts students into courses
and ticks what was done on the ground. The chief alone edits aircraft, places, standards and courses, sets a
standing otherwise than it follows, says who belongs to the school, and keeps its records. Whoever teaches and
is taught besides is a student in their own sorties."""

from django.db.models import QuerySet

from keelturn.progress.stages import Act
from server.school.models import Person, Sortie, Student
from server.school.models.sorties import SortieStage


class Denied(Exception):
    """Known, but not allowed: what, and what to do."""

    def __init__(self, what: str, do: str = "Ask the person who may.") -> None:
        super().__init__(what)
        self.what, self.do = what, do


def with_people(sorties: QuerySet[Sortie]) -> QuerySet[Sortie]:
    """What showing one needs besides."""
    return sorties.select_related("student__person", "instructor", "aircraft", "place", "changed_by", "read")


def sorties_seen_by(person: Person) -> QuerySet[Sortie]:
    everything = with_people(Sortie.objects.all())
    return everything if person.teaches else everything.filter(student__person=person)


def students_seen_by(person: Person) -> QuerySet[Student]:
    everyone = Student.objects.select_related("person").order_by("person__name")
    return everyone if person.teaches else everyone.filter(person=person)


def instructs(person: Person, sortie: Sortie) -> bool:
    """Whether they look at it as an instructor does; whoever is its student does not."""
    return person.teaches and sortie.student.person_id != person.pk


def may(person: Person, sortie: Sortie, act: Act) -> bool:
    """Whose it is, and whether the sortie has come to the stage for it."""
    if not sortie.open_for(act):
        return False
    if act == Act.BOOK:
        return person.teaches
    if act == Act.HAND_OVER:
        return person.is_chief
    mine = person.teaches and sortie.instructor_id == person.pk
    if act in (Act.READ, Act.ASK, Act.OWN_VIEW, Act.SHEET):
        return sortie.student.person_id == person.pk
    return mine or (act == Act.CORRECT and person.is_chief)


def may_edit(person: Person, sortie: Sortie) -> bool:
    return any(may(person, sortie, act) for act in (Act.PLAN, Act.NOTE, Act.GRADE))


def require_edit(person: Person, sortie: Sortie) -> None:
    if sortie.stage == SortieStage.SIGNED:
        raise Denied("this record is signed and does not change", "Add a correction beside it.")
    if sortie.cancelled is not None:
        raise Denied("this sortie is cancelled", "Put it back first, under Booking.")
    if not may_edit(person, sortie):
        raise Denied("only the instructor of this sortie may change it")


def require_instructor(person: Person) -> None:
    if not person.teaches:
        raise Denied("only an instructor may do this")


def require_chief(person: Person, what: str = "aircraft, places and standards") -> None:
    if not person.is_chief:
        raise Denied(f"only the chief instructor may change {what}")
