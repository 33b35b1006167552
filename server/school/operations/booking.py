"""When a sortie is flown and with whom, and whether at all: moved, taken over, cancelled, put back. Any
instructor of the school may; who did it stays on the record."""

from dataclasses import dataclass
from datetime import datetime

from keelturn.formats.reading import read_stored
from keelturn.plan.briefing import Brief
from keelturn.plan.rebooked import in_another_aircraft, on_another_day, with_another_instructor
from keelturn.progress.stages import Act
from server import clock
from server.school.models import Aircraft, Person, Sortie
from server.school.operations.clashes import slot_of, usual_min
from server.school.operations.computing import computed, conditions_for, plan_of
from server.school.operations.proposing import load_for
from server.school.operations.sorties import as_read, require_can_instruct, standing_of, stored_next
from server.school.permissions import Denied, may, require_instructor, with_people


@dataclass(frozen=True)
class Otherwise:
    """What of a booking becomes otherwise; None leaves it. minutes: how long it is booked."""

    at: datetime | None = None
    instructor: Person | None = None
    aircraft: Aircraft | None = None
    minutes: int | None = None


def rebook(person: Person, sortie_id: int, version: int, otherwise: Otherwise) -> Sortie:
    """It has to be briefed again where more than its length changes: on another day with that day's weather,
    with another instructor at their weight and by their own overrides, in another aircraft on its card and
    with a load of its own. Raises Denied, Refused, Overtaken."""
    at, instructor, aircraft = otherwise.at, otherwise.instructor, otherwise.aircraft
    sortie = with_people(Sortie.objects.all()).get(pk=sortie_id)
    if instructor is not None and at in (None, sortie.planned_for) and may(person, sortie, Act.HAND_OVER):
        return _hand_over(person, as_read(sortie, version), instructor)
    sortie = _to_book(person, sortie_id, version)
    if sortie.cancelled is not None:
        raise Denied("this sortie is cancelled", "Put it back first.")
    before, plan, brief = standing_of(sortie), plan_of(sortie), read_stored(Brief, sortie.brief, "brief")
    if at is not None and at != sortie.planned_for:
        if clock.day_of(at) != clock.day_of(sortie.planned_for):
            plan, brief = on_another_day(plan, brief)
        sortie.planned_for = at
    if instructor is not None and instructor.pk != sortie.instructor_id:
        require_can_instruct(instructor, sortie.student)
        weights = sortie.instructor.weight_lb, instructor.weight_lb
        plan, brief = with_another_instructor(plan, brief, *weights)
        sortie.instructor = instructor
    if aircraft is not None and aircraft.pk != sortie.aircraft_id:
        sortie.aircraft = aircraft
        sortie.keep_card()
        load = load_for(aircraft, sortie.student, sortie.instructor)
        plan, brief = in_another_aircraft(plan, brief, load)
    if standing_of(sortie) != before:
        computed(plan, conditions_for(sortie, plan))
        sortie.plan, sortie.brief = plan.model_dump(mode="json"), brief.model_dump(mode="json")
        sortie.stage = "planned"
    if otherwise.minutes is not None and otherwise.minutes != slot_of(sortie, usual_min()).minutes:
        sortie.booked_min = otherwise.minutes
    if standing_of(sortie) == before:
        return sortie
    stored_next(person, sortie, before)
    return sortie


def _hand_over(person: Person, sortie: Sortie, instructor: Person) -> Sortie:
    """Of what was flown only who grades and signs it changes, on the record. Raises Refused, Overtaken."""
    if instructor.pk == sortie.instructor_id:
        return sortie
    require_can_instruct(instructor, sortie.student)
    before, sortie.instructor = standing_of(sortie), instructor
    stored_next(person, sortie, before)
    return sortie


def cancel(person: Person, sortie_id: int, version: int, reason: str | None) -> Sortie:
    """Not flown, for this reason; None: flown after all. Raises Denied, Refused, Overtaken."""
    sortie = _to_book(person, sortie_id, version)
    if reason is not None and sortie.attempts.exists():
        raise Denied("something was noted in flight: it stays on the record", "Take the notes back first.")
    before, sortie.cancelled = standing_of(sortie), reason
    if standing_of(sortie) != before:
        stored_next(person, sortie, before)
    return sortie


def _to_book(person: Person, sortie_id: int, version: int) -> Sortie:
    require_instructor(person)
    sortie = with_people(Sortie.objects.all()).get(pk=sortie_id)
    if not may(person, sortie, Act.BOOK):
        raise Denied("a flown sortie stays as it was flown", "Plan another one.")
    return as_read(sortie, version)
