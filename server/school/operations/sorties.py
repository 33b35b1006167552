"""The life of a sortie: planned, moved from stage to stage, taken on to a newer card, thrown away."""

import secrets
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from django.db import IntegrityError, transaction

from keelturn.aircraft.loading import fitted
from keelturn.document import Document, Wrong
from keelturn.formats.reading import Problem, Refused, refusal_of, refused
from keelturn.formats.signed import Booked, Record
from keelturn.plan.briefing import Brief
from keelturn.plan.document import MOST_SEED, PlanDocument, Surprises
from keelturn.progress.first_plan import Setting, laid_out_above_the_lowest
from keelturn.progress.lessons import FREE, Lesson
from keelturn.progress.stages import STAGES, Act, Debrief, Stage, back_from, missing_before
from keelturn.weather.day import Day
from server import clock
from server.school.models import Aircraft, BookingChange, Person, Place, Sortie, StageChange, Student
from server.school.operations.adding import add_up_again, keep_of_the_brief
from server.school.operations.before import MISSING
from server.school.operations.comparing import Difference, differences
from server.school.operations.computing import (
    computed,
    conditions_for,
    plan_of,
    with_overrides,
)
from server.school.operations.courses import courses_for, lesson_for
from server.school.operations.dates import keep_dates
from server.school.operations.enrolling import count_flight
from server.school.operations.proposing import load_for, setting_of
from server.school.operations.record import COUNTED_STAGES
from server.school.operations.showing import record_of
from server.school.operations.weather import as_reported
from server.school.permissions import Denied, require_edit, require_instructor, with_people


class Overtaken(Exception):
    """Somebody stored this sortie since it was read. Nothing of the later save has been kept."""

    def __init__(self, by: str, at: datetime, version: int, found: list[Difference]) -> None:
        super().__init__(f"changed by {by}")
        self.by, self.at, self.version, self.differences = by, at, version, found


def require_can_instruct(instructor: Person, student: Student) -> None:
    """Raises Refused."""
    if not instructor.teaches or not instructor.is_active:
        raise refused("instructor", f"{instructor.name} does not instruct", "Choose an instructor.")
    if student.person_id == instructor.pk:
        raise refused("instructor", f"{instructor.name} is the student of it", "Choose another instructor.")


def plan_sortie(
    person: Person,
    student: Student,
    aircraft: Aircraft,
    place: Place,
    lesson_key: str,
    at: datetime,
    plan: PlanDocument | None = None,
    made_as: str | None = None,
    instructor: Person | None = None,
) -> Sortie:
    """A new sortie with this plan, or with the lesson's figures, each a little above its lowest start.
    made_as: the asker's own name for it; asked twice with the same, it is made once. instructor: who flies
    it where that is not the asker. Raises Denied, Refused."""
    require_instructor(person)
    with_whom = instructor or person
    require_can_instruct(with_whom, student)
    if made_as is not None and (there := made_before(with_whom, made_as)) is not None:
        return there
    sortie = Sortie(
        student=student,
        instructor=with_whom,
        aircraft=aircraft,
        place=place,
        planned_for=at,
        changed_by=person,
        made_as=made_as,
        brief=Brief().model_dump(mode="json"),
        debrief=Debrief().model_dump(mode="json"),
    )
    sortie.keep_card()
    sortie.keep_place()
    where = "lesson" if plan is None else "plan.lesson"
    lesson = lesson_for(lesson_key if plan is None else plan.lesson, courses_for(student), where)
    if plan is None:
        plan = _laid_out(lesson, setting_of(aircraft, student, with_whom, at), place)
    sortie.keep_lesson(lesson)
    plan, _ = with_overrides(person.name, as_reported(plan), (), computed(plan, conditions_for(sortie, plan)))
    sortie.plan = plan.model_dump(mode="json")
    try:
        with transaction.atomic():
            sortie.save()
    except IntegrityError:
        # Asked twice at the same moment.
        there = None if made_as is None else made_before(with_whom, made_as)
        if there is None:
            raise
        return there
    return sortie


def made_before(instructor: Person, made_as: str) -> Sortie | None:
    """One query. Raises Refused where somebody else has a sortie by that name."""
    found = with_people(Sortie.objects.all()).filter(made_as=made_as).first()
    if found is not None and found.instructor_id != instructor.pk:
        raise refused("made_as", "this name is taken", "Give the new sortie a name of its own.")
    return found


def _laid_out(lesson: Lesson, setting: Setting, place: Place) -> PlanDocument:
    try:
        return laid_out_above_the_lowest(lesson, setting, place.document())
    except Wrong as error:
        raise refusal_of(error) from error


def copy_sortie(
    person: Person,
    earlier: Sortie,
    student: Student,
    aircraft: Aircraft,
    at: datetime,
    made_as: str | None = None,
    instructor: Person | None = None,
) -> Sortie:
    """The figures and settings of an earlier sortie for a new one: its own load and day, no overrides. A
    lesson that no course has any more is free. Raises Denied, Refused, Unreadable."""
    plan = record_of(earlier).plan if earlier.stage == "signed" else plan_of(earlier)
    other = aircraft.pk != earlier.aircraft_id
    figures = tuple(f.model_copy(update={"entry_ias": None}) for f in plan.figures) if other else plan.figures
    courses = courses_for(student)
    kept = any(course.lesson(plan.lesson) is not None for course in courses)
    fresh = plan.model_copy(
        update={
            "lesson": plan.lesson if kept else FREE.key,
            "figures": figures,
            "load": load_for(aircraft, student, instructor or person),
            "day": Day(),
            "overrides": (),
            "feeling": None,
            "surprises": None if plan.surprises is None else drawn_anew(plan.surprises),
        }
    )
    return plan_sortie(person, student, aircraft, earlier.place, plan.lesson, at, fresh, made_as, instructor)


def drawn_anew(surprises: Surprises) -> Surprises:
    """As many set-ups, and others: who has flown the earlier ones knows them."""
    return surprises.model_copy(update={"seed": 1 + secrets.randbelow(MOST_SEED)})


def sortie_to_change(person: Person, sortie_id: int, version: int) -> Sortie:
    """The sortie, when this person may change it and nobody stored it since `version`. Raises Denied,
    Overtaken, and DoesNotExist for one that was thrown away meanwhile."""
    sortie = with_people(Sortie.objects.all()).get(pk=sortie_id)
    require_edit(person, sortie)
    return as_read(sortie, version)


def as_read(sortie: Sortie, version: int) -> Sortie:
    """Raises Overtaken where somebody stored it since `version`."""
    if sortie.version != version:
        raise Overtaken(sortie.changed_by.name, sortie.changed_at, sortie.version, [])
    return sortie


@dataclass(frozen=True)
class Standing:
    """What of a sortie stays on the record when it changes: its stage, and how it is booked."""

    stage: str
    booked: Mapping[Booked, str]


def standing_of(sortie: Sortie) -> Standing:
    return Standing(
        sortie.stage,
        {
            "time": sortie.planned_for.isoformat(),
            "length": "" if sortie.booked_min is None else f"{sortie.booked_min} min",
            "instructor": sortie.instructor.name,
            "aircraft": sortie.aircraft.registration,
            "place": sortie.place.name,
            "cancelled": sortie.cancelled or "",
        },
    )


def stored_next(person: Person, sortie: Sortie, before: Standing) -> None:
    """Store it as the next version, a change of stage or booking on the record. Nothing is computed here but
    the standing that follows, where a debrief is finished or taken back: it may wait for other writers.
    Raises Overtaken, and DoesNotExist."""
    read, sortie.version, sortie.changed_by = sortie.version, sortie.version + 1, person
    sortie.changed_at = clock.now()
    kept = {
        field.attname: getattr(sortie, field.attname)
        for field in Sortie._meta.concrete_fields
        if not field.primary_key
    }
    with transaction.atomic():
        if not Sortie.objects.filter(pk=sortie.pk, version=read).update(**kept):
            as_read(with_people(Sortie.objects.all()).get(pk=sortie.pk), read)
        now = standing_of(sortie)
        if now.stage != before.stage:
            StageChange.objects.create(sortie=sortie, stage=now.stage, by=person)
            if {now.stage, before.stage} & set(COUNTED_STAGES):
                count_flight(sortie.student)
        for what, was in before.booked.items():
            if now.booked[what] != was:
                BookingChange.objects.create(
                    sortie=sortie, what=what, before=was, after=now.booked[what], by=person
                )


def missing_for(record: Record, reached: Stage) -> dict[str, list[str]]:
    """What is missing before each stage, in words."""
    figures, stops = len(record.plan.figures), record.answer.stops
    return {
        stage: missing_before(stage, figures, stops, record.brief, record.attempts, reached)
        for stage in STAGES[1:]
    }


def move_stage(person: Person, sortie_id: int, version: int, to: Stage) -> Sortie:
    """Forward by one stage when nothing is missing, or back to an earlier one; what was flown stays flown.
    Raises Denied, Refused, Overtaken."""
    sortie = sortie_to_change(person, sortie_id, version)
    before, step = standing_of(sortie), STAGES.index(to) - STAGES.index(sortie.stage_reached)
    was = before.stage
    if to == "signed":
        raise refused("stage", "a sortie is signed with the password", "Use Sign.")
    if step > 1:
        raise refused(
            "stage",
            f"a {was} sortie cannot become {to} at once",
            "Go through the stages in between.",
        )
    if step < 0 and to not in back_from(sortie.stage_reached):
        raise refused("stage", f"a {was} sortie does not become {to} again", "What was flown stays flown.")
    if step == 1:
        record = record_of(sortie)
        missing = missing_for(record, sortie.stage_reached)[to]
        if missing:
            raise Refused([Problem("stage", words.rstrip("."), "Then try again.") for words in missing])
        if to == "flown":
            sortie.packed_kept = sortie.aircraft.parachutes_packed_on
            sortie.dates_kept = keep_dates(record.dates)
            sortie.before_kept = MISSING.dump_python(record.before, mode="json")
            keep_of_the_brief(sortie, record)
    sortie.stage = to
    with transaction.atomic():
        stored_next(person, sortie, before)
        if step == 1 and to == "flown":
            add_up_again(sortie)
    return sortie


Remembered = Literal["aircraft", "place"]


def newer_documents(sortie: Sortie) -> dict[Remembered, list[Difference]]:
    """What has changed about the aircraft and the place since it was planned on them, as long as that can
    still be taken over."""
    if not sortie.open_for(Act.PLAN):
        return {}
    found: dict[Remembered, list[Difference]] = {}
    if sortie.card_version != sortie.aircraft.version:
        found["aircraft"] = _differences("card", sortie.card(), sortie.aircraft.document())
    if sortie.place_version != sortie.place.version:
        found["place"] = _differences("place", sortie.where(), sortie.place.document())
    return {name: different for name, different in found.items() if different}


def _differences(name: str, then: Document, now: Document) -> list[Difference]:
    return differences({name: then.model_dump(mode="json")}, {name: now.model_dump(mode="json")})


def take_over(person: Person, sortie_id: int, version: int, what: Remembered) -> Sortie:
    """Plan it on the card or the place as it is now; the load is fitted to the card's tanks. A briefed one
    has to be briefed again. Raises Denied, Refused, Overtaken."""
    sortie = sortie_to_change(person, sortie_id, version)
    if not sortie.open_for(Act.PLAN):
        raise Denied(
            "the plan of a flown sortie stays on the card it was flown on", "Note what was flown instead."
        )
    plan = plan_of(sortie)
    if what == "aircraft":
        sortie.keep_card()
        plan = plan.model_copy(update={"load": fitted(plan.load, sortie.card().balance)})
    else:
        sortie.keep_place()
    computed(plan, conditions_for(sortie, plan))
    before = standing_of(sortie)
    sortie.plan, sortie.stage = plan.model_dump(mode="json"), "planned"
    stored_next(person, sortie, before)
    return sortie


def discard_sortie(person: Person, sortie: Sortie) -> None:
    """A draft can be thrown away by its instructor; what was flown stays. Raises Denied."""
    require_edit(person, sortie)
    if sortie.was_flown:
        raise Denied("a flown sortie stays on the record", "Mark what was not flown as skipped.")
    if sortie.entries.exists():
        raise Denied("something was noted in flight: it stays on the record", "Cancel it, with a reason.")
    sortie.delete()
