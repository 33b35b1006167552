"""A new sortie from three choices: the core proposes lesson, place, sequence and heights from the student's
record, and says why."""

from dataclasses import dataclass
from datetime import datetime

from keelturn.aircraft.loading import Load, usual_load
from keelturn.assess.attempts import Attempt
from keelturn.flying.conditions import Conditions
from keelturn.formats.reading import refused
from keelturn.plan.document import PlanDocument
from keelturn.plan.proposal import Proposal, propose
from keelturn.plan.sequence import PlanAnswer, compute_plan, starts_above_the_lowest
from keelturn.progress.habits import fault_trends, standards_reached
from keelturn.progress.lessons import Lesson, lesson_of
from keelturn.progress.next_lesson import ended_badly, next_lesson, sequence_for
from server.school.models import Aircraft, Person, Place, Sortie, Student
from server.school.operations.computing import conditions_for
from server.school.operations.record import attempt_rows, by_lesson
from server.school.permissions import require_instructor


@dataclass(frozen=True, slots=True)
class Proposed:
    """plan: with its heights; fits: nothing stops it; why: lesson, what differs from it, place, heights, in
    that order."""

    lesson: Lesson
    place: Place
    plan: PlanDocument
    fits: bool
    why: tuple[str, ...]


def load_for(aircraft: Aircraft, student: Student, instructor: Person) -> Load:
    """Both aboard, with parachutes where the aircraft has them."""
    worn = aircraft.parachutes_packed_on is not None
    return usual_load(aircraft.document().balance, student.person.weight_lb, instructor.weight_lb, worn)


@dataclass(frozen=True, slots=True)
class AtPlace:
    """The lesson laid out at one place. here: what stops it there; anywhere: what would at any place, in
    words."""

    plan: PlanDocument
    conditions: Conditions
    differs: tuple[str, ...]
    here: list[str]
    anywhere: list[str]


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
    if lesson_key == "free":
        plan = PlanDocument(load=load_for(aircraft, student, person), lesson="free", figures=())
        return Proposed(lesson_of("free"), places[0], plan, True, ("Free: add the figures yourself.",))
    lessons = by_lesson(attempt_rows(student))
    lesson, why = _lesson(lesson_key, lessons, student, aircraft)
    tried: list[tuple[Place, AtPlace, Proposal]] = []
    for place in places:
        sortie = Sortie(student=student, instructor=person, aircraft=aircraft, place=place, planned_for=at)
        laid = _laid_at(sortie, lesson, lessons)
        before = _not([other.name for other, _, _ in tried])
        if not laid.here:
            words = (
                f"{place.name}{before}: every figure keeps its floor with something to spare, in the order of"
                " the lesson."
            )
            return Proposed(
                lesson, place, laid.plan, not laid.anywhere, (*why, *laid.differs, words, *laid.anywhere)
            )
        proposal = _way_out(laid)
        if (
            proposal.plan is not None
            and not proposal.changes
            and not _stops(compute_plan(proposal.plan, laid.conditions))[0]
        ):
            words = f"{place.name}{before}: in another order it fits."
            return Proposed(
                lesson, place, proposal.plan, not laid.anywhere, (*why, *laid.differs, words, *laid.anywhere)
            )
        tried.append((place, laid, proposal))
    place, laid, proposal = tried[0]
    out = f" The smallest way out: {proposal.changes[0]}." if proposal.changes else ""
    words = f"No place takes it as it is. {place.name}: {proposal.why}{out}"
    return Proposed(lesson, place, laid.plan, False, (*why, *laid.differs, words))


def _lesson(
    key: str | None, lessons: list[list[Attempt]], student: Student, aircraft: Aircraft
) -> tuple[Lesson, tuple[str, ...]]:
    """The one asked for, or the next of the syllabus with why. Raises Refused."""
    if key is None:
        found = next_lesson(
            {r.figure: r.grade for r in standards_reached(lessons)},
            student.stage_reached,
            aircraft.document(),
        )
        return found.lesson, found.why
    try:
        return lesson_of(key), ()
    except ValueError as error:
        raise refused("lesson", str(error), "Choose a lesson of the syllabus.") from error


def _laid_at(sortie: Sortie, lesson: Lesson, lessons: list[list[Attempt]]) -> AtPlace:
    """The lesson's figures for this student at the sortie's place, each a little above its lowest start."""
    card, top_ft = sortie.aircraft.document(), sortie.place.document().top_ft
    figures, differs = sequence_for(lesson, card, top_ft - 500.0, fault_trends(lessons), ended_badly(lessons))
    load = load_for(sortie.aircraft, sortie.student, sortie.instructor)
    plan = PlanDocument(load=load, lesson=lesson.key, figures=figures)
    conditions = conditions_for(sortie, plan)
    plan = starts_above_the_lowest(plan, conditions)
    return AtPlace(plan, conditions, differs, *_stops(compute_plan(plan, conditions)))


def _way_out(laid: AtPlace) -> Proposal:
    """The core's proposal; one without a plan where the card cannot be asked."""
    try:
        return propose(laid.plan, laid.conditions)
    except ValueError as error:
        return Proposal(None, False, (), 0.0, 0.0, f"{error}.")


def _stops(answer: PlanAnswer) -> tuple[list[str], list[str]]:
    """What stops the plan at this place, and what would stop it at any (the day, the aircraft, the people),
    in words."""
    stops = [c for c in answer.checks if c.verdict == "stop" and c.overridden is None]
    here = [c for c in stops if c.change in ("sequence", "load")]
    return [c.sentence for c in here], [f"{c.title}: {c.sentence}" for c in stops if c not in here]


def _not(tried: list[str]) -> str:
    return f" (it does not fit {' or '.join(tried)})" if tried else ""
