"""A new sortie from three choices: what the core needs to know for it, read from what is stored."""

from dataclasses import dataclass
from datetime import datetime

from keelturn.aircraft.loading import Load, usual_load
from keelturn.formats.reading import refused
from keelturn.progress.first_plan import FirstPlan, Setting, first_plan
from server.school.models import Aircraft, Person, Place, SchoolStandards, Student
from server.school.operations.record import attempt_rows, by_lesson
from server.school.permissions import require_instructor


@dataclass(frozen=True, slots=True)
class Proposed:
    place: Place
    first: FirstPlan


def load_for(aircraft: Aircraft, student: Student, instructor: Person) -> Load:
    """Both aboard, with parachutes where the aircraft has them."""
    worn = aircraft.parachutes_packed_on is not None
    return usual_load(aircraft.document().balance, student.person.weight_lb, instructor.weight_lb, worn)


def setting_of(
    aircraft: Aircraft, student: Student, instructor: Person, at: datetime, with_record: bool = False
) -> Setting:
    """Who flies what, when. One query, and one more for the student's record where it is asked for."""
    return Setting(
        card=aircraft.document(),
        standards=SchoolStandards.in_force().document(),
        stage=student.stage_reached,
        load=load_for(aircraft, student, instructor),
        parachute_days=aircraft.parachute_days(at.date()),
        off_blocks=at,
        flown=by_lesson(attempt_rows(student)) if with_record else (),
    )


def propose_sortie(
    person: Person, student: Student, aircraft: Aircraft, lesson_key: str | None, at: datetime
) -> Proposed:
    """lesson_key None: the next of the syllabus; 'free': no figures yet. Three queries. Raises Denied,
    Refused."""
    require_instructor(person)
    places = list(Place.objects.order_by("pk"))
    if not places:
        raise refused(
            "place", "the school has no place yet", "Have the chief enter one under Fleet and places."
        )
    setting = setting_of(aircraft, student, person, at, with_record=True)
    try:
        found = first_plan(lesson_key, setting, [place.document() for place in places])
    except ValueError as error:
        raise refused("lesson", str(error), "Choose a lesson of the syllabus.") from error
    return Proposed(places[found.place], found)
