"""From an empty installation to a first flight: the first chief, and what comes next."""

from dataclasses import dataclass

from django.db import transaction

from keelturn.formats.reading import refused
from server import clock
from server.school.models import (
    Aircraft,
    Change,
    Enrolment,
    Person,
    Place,
    School,
    SchoolStandards,
    Sortie,
    Student,
)
from server.school.models.people import Role
from server.school.operations.accounts import require_good


@dataclass(frozen=True)
class Step:
    """then: what is done there, in words; to: the address of the page, with what it opens."""

    key: str
    words: str
    then: str
    done: bool
    to: str


def begin(school: str, username: str, name: str, email: str, password: str, weight_lb: float) -> Person:
    """The first chief of an installation in which nobody is. Raises Refused."""
    with transaction.atomic():
        if Person.objects.exists():
            raise refused(
                "school", "somebody is here already", "Log in, or ask the chief instructor for a link."
            )
        made = Person(
            username=username, name=name.strip(), email=email.strip(), role=Role.CHIEF, weight_lb=weight_lb
        )
        require_good(made, password)
        made.set_password(password)
        made.save()
        SchoolStandards.in_force()
        name_school(made, school.strip())
    return made


def name_school(person: Person, name: str) -> None:
    with transaction.atomic():
        before = School.called()
        if before == name:
            return
        School.objects.update_or_create(defaults={"name": name, "by": person, "at": clock.now()})
        Change.objects.create(
            subject="school",
            by=person,
            before={"name": before} if before else None,
            after={"name": name},
        )


def steps() -> tuple[Step, ...]:
    """In the order in which they are usually done. Six queries."""
    looked_at = SchoolStandards.in_force().version > 1
    return (
        Step(
            "school",
            "Floors and limits of the school",
            "They ship as regulations and common practice have them, from memory: confirm each for where you"
            " fly, and store them.",
            looked_at,
            "/fleet?open=standards",
        ),
        Step(
            "aircraft",
            "The first aircraft",
            "Import its card, or enter it from the flight manual; what contradicts itself is said at the"
            " number.",
            Aircraft.objects.exists(),
            "/fleet?open=aircraft",
        ),
        Step(
            "place",
            "The first place",
            "Where you fly: the ground, the top of the block, what lies below.",
            Place.objects.exists(),
            "/fleet?open=place",
        ),
        Step(
            "student",
            "The first student",
            "Ask them in: a name is enough, the link can wait.",
            Student.objects.exists(),
            "/people?open=new",
        ),
        Step(
            "course",
            "Into a course",
            "Five courses ship with the program; look through them, change what your school does otherwise,"
            " and put the student into one.",
            Enrolment.objects.exists(),
            "/students",
        ),
        Step(
            "sortie",
            "The first sortie",
            "A student, a lesson and an aircraft are enough: the heights are proposed.",
            Sortie.objects.exists(),
            "/?open=sortie",
        ),
    )
