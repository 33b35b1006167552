"""A new sortie from three choices: what the core needs to know for it, read from what is stored."""

from datetime import datetime

from django.utils import timezone

from keelturn.aircraft.loading import Load, usual_load
from keelturn.formats.reading import refused
from keelturn.progress.first_plan import Setting
from keelturn.progress.lessons import Lesson
from keelturn.progress.next_lesson import banned
from server import clock
from server.school.models import Aircraft, Person, Place, SchoolStandards, Student
from server.school.operations.courses import courses_for
from server.school.operations.enrolling import ways_of
from server.school.operations.own import own_numbers


def load_for(aircraft: Aircraft, student: Student, instructor: Person) -> Load:
    """Both aboard, with parachutes where the aircraft has them."""
    worn = aircraft.parachutes_packed_on is not None
    return usual_load(aircraft.document().balance, student.person.weight_lb, instructor.weight_lb, worn)


def setting_of(
    aircraft: Aircraft, student: Student, instructor: Person, at: datetime, with_record: bool = False
) -> Setting:
    """Who flies what, when. Three queries, and six more for the student's record where it is asked for."""
    today = clock.day_of(clock.now())
    on = ways_of([student], today)[student.pk] if with_record else None
    return Setting(
        card=aircraft.document(),
        standards=SchoolStandards.in_force().document(),
        stage=student.stage_reached,
        load=load_for(aircraft, student, instructor),
        parachute_days=aircraft.parachute_days(clock.day_of(at)),
        off_blocks=timezone.localtime(at),
        flown=on.lately if on is not None else (),
        courses=courses_for(student) if with_record else (),
        way=on.way if on is not None else None,
        today=today,
        own=own_numbers(student, at),
    )


def others_able(lesson: Lesson, aircraft: Aircraft) -> list[Aircraft]:
    """The fleet's aircraft that may fly all of the lesson, where this one may not. One query where it may
    not."""
    if not banned(lesson, aircraft.document()):
        return []
    others = Aircraft.objects.exclude(pk=aircraft.pk).order_by("registration")
    return [other for other in others if not banned(lesson, other.document())]


def places_to_plan_in() -> list[Place]:
    """One query. Raises Refused where the school has none yet."""
    places = list(Place.objects.order_by("pk"))
    if not places:
        raise refused(
            "place", "the school has no place yet", "Have the chief enter one under Fleet and places."
        )
    return places
