"""A new sortie from three choices: the core proposes lesson, place, sequence and heights from the student's record, and says why."""

from dataclasses import dataclass
from datetime import datetime

from keelturn.aircraft.loading import Load
from keelturn.formats.reading import refused
from keelturn.plan.document import Day, PlanDocument
from keelturn.plan.proposal import Proposal, propose
from keelturn.plan.sequence import PlanAnswer, compute_plan, starts_above_the_lowest
from keelturn.progress.habits import fault_trends, standards_reached
from keelturn.progress.lessons import Lesson, lesson_of
from keelturn.progress.next_lesson import next_lesson, sequence_for
from server.school.models import Aircraft, Person, Place, Sortie, Student
from server.school.operations.computing import conditions_for
from server.school.operations.record import attempt_rows, by_lesson
from server.school.permissions import require_instructor

PARACHUTE_LB = 15.0
LOW_NUMBER = 4


@dataclass(frozen=True, slots=True)
class Proposed:
    """plan: with its heights; fits: nothing stops it; why: lesson, what differs from it, place, heights, in that order."""

    lesson: Lesson
    place: Place
    plan: PlanDocument
    fits: bool
    why: tuple[str, ...]


def usual_load(aircraft: Aircraft, student: Student, instructor: Person) -> Load:
    """Both aboard with parachutes where the aircraft has them, and seven tenths of the fuel that may feed aerobatics."""
    balance = aircraft.document().balance
    fuel = {tank.name: round(tank.usable_usgal * 0.7, 1) for tank in balance.tanks if tank.feeds_aerobatics}
    worn = PARACHUTE_LB if aircraft.parachutes_packed_on is not None else 0.0
    return Load(front_lb=student.person.weight_lb, rear_lb=instructor.weight_lb, front_parachute_lb=worn, rear_parachute_lb=worn,
        fuel_usgal=fuel)


def propose_sortie(person: Person, student: Student, aircraft: Aircraft, lesson_key: str | None, at: datetime) -> Proposed:
    """lesson_key None: the next of the syllabus; 'free': no figures yet. Three queries. Raises Denied, Refused."""
    require_instructor(person)
    places = list(Place.objects.order_by("pk"))
    if not places:
        raise refused("place", "the school has no place yet", "Have the chief enter one under Fleet and places.")
    card = aircraft.document()
    rows = attempt_rows(student)
    lessons = by_lesson(rows)
    why: list[str] = []
    if lesson_key is None:
        found = next_lesson({r.figure: r.grade for r in standards_reached(lessons)}, student.stage_reached, card)
        lesson, why = found.lesson, list(found.why)
    elif lesson_key == "free":
        plan = PlanDocument(load=usual_load(aircraft, student, person), lesson="free", figures=())
        return Proposed(lesson_of("free"), places[0], plan, True, ("Free: add the figures yourself.",))
    else:
        lesson = _known(lesson_key)
    last_feel = next((a.feel for a in reversed(lessons[-1]) if a.feel is not None), None) if lessons else None
    unsettled = last_feel is not None and last_feel < LOW_NUMBER
    load, day = usual_load(aircraft, student, person), Day()
    tried: list[str] = []
    first: tuple[Place, PlanDocument, Proposal, tuple[str, ...]] | None = None
    for place in places:
        figures, differs = sequence_for(lesson, card, place.document().top_ft - 500.0, fault_trends(lessons), unsettled)
        plan = PlanDocument(load=load, day=day, lesson=lesson.key, figures=figures)
        sortie = Sortie(student=student, instructor=person, aircraft=aircraft, place=place, planned_for=at)
        conditions = conditions_for(sortie, plan)
        plan = starts_above_the_lowest(plan, conditions)
        here, elsewhere = _stops(compute_plan(plan, conditions))
        if not here:
            words = f"{place.name}{_not(tried)}: every figure keeps its floor with something to spare, in the order of the lesson."
            return Proposed(lesson, place, plan, not elsewhere, (*why, *differs, words, *elsewhere))
        try:
            proposal = propose(plan, conditions)
        except ValueError as error:
            tried.append(place.name)
            why.append(f"{place.name}: {error}.")
            first = first or (place, plan, Proposal(None, False, (), 0.0, 0.0, str(error)), differs)
            continue
        if proposal.plan is not None and not proposal.changes and not _stops(compute_plan(proposal.plan, conditions))[0]:
            words = f"{place.name}{_not(tried)}: in another order it fits."
            return Proposed(lesson, place, proposal.plan, not elsewhere, (*why, *differs, words, *elsewhere))
        tried.append(place.name)
        first = first or (place, plan, proposal, differs)
    assert first is not None
    place, plan, proposal, differs = first
    out = f" The smallest way out: {proposal.changes[0]}." if proposal.changes else ""
    return Proposed(lesson, place, plan, False, (*why, *differs, f"No place takes it as it is. {place.name}: {proposal.why}{out}"))


def _stops(answer: PlanAnswer) -> tuple[list[str], list[str]]:
    """What stops the plan at this place, and what would stop it at any (the day, the aircraft, the people), in words."""
    stops = [c for c in answer.checks if c.verdict == "stop" and c.overridden is None]
    here = [c for c in stops if c.change in ("sequence", "load")]
    return [c.sentence for c in here], [f"{c.title}: {c.sentence}" for c in stops if c not in here]


def _known(key: str) -> Lesson:
    try:
        return lesson_of(key)
    except ValueError as error:
        raise refused("lesson", str(error), "Choose a lesson of the syllabus.") from error


def _not(tried: list[str]) -> str:
    return f" (it does not fit {' or '.join(tried)})" if tried else ""
