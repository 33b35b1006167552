"""The life of a sortie: planned, saved, moved from stage to stage."""

from dataclasses import dataclass
from datetime import datetime
from typing import Any

from django.db import transaction

from keelturn.assess.attempts import Attempt, loss_account
from keelturn.flying.conditions import Conditions
from keelturn.formats.reading import Problem, Refused, read_document, refused
from keelturn.plan.briefing import Brief
from keelturn.plan.document import PlanDocument
from keelturn.progress.first_plan import laid_out_above_the_lowest
from keelturn.progress.lessons import lesson_of
from keelturn.progress.stages import STAGES, Act, Debrief, Stage, allowed, missing_before
from keelturn.weather.day import Day
from server.school.models import Aircraft, AttemptRow, Person, Place, Sortie, StageChange, Student
from server.school.operations.comparing import Difference, differences
from server.school.operations.computing import answer_for, attempts_of, computed, conditions_for
from server.school.operations.proposing import load_for, setting_of
from server.school.permissions import Denied, require_edit, require_instructor


class Overtaken(Exception):
    """Somebody stored this sortie since it was read. Nothing of the later save has been kept."""

    def __init__(self, by: str, at: datetime, version: int, found: list[Difference]) -> None:
        super().__init__(f"changed by {by}")
        self.by, self.at, self.version, self.differences = by, at, version, found


@dataclass(frozen=True)
class Sheets:
    """What a save may bring; None leaves that part as it is."""

    plan: PlanDocument | None = None
    brief: Brief | None = None
    attempts: list[Attempt] | None = None
    debrief: Debrief | None = None
    aircraft: Aircraft | None = None
    place: Place | None = None

    def stored_form(self) -> dict[str, Any]:
        found: dict[str, Any] = {}
        for name in ("plan", "brief", "debrief"):
            sheet = getattr(self, name)
            if sheet is not None:
                found[name] = sheet.model_dump(mode="json")
        if self.attempts is not None:
            found["attempts"] = [a.model_dump(mode="json") for a in self.attempts]
        if self.aircraft is not None:
            found["aircraft"] = self.aircraft.registration
        if self.place is not None:
            found["place"] = self.place.name
        return found


def _stored_form(sortie: Sortie, like: dict[str, Any]) -> dict[str, Any]:
    everything = {
        "plan": sortie.plan,
        "brief": sortie.brief,
        "debrief": sortie.debrief,
        "attempts": [row.attempt for row in sortie.attempts.all()],
        "aircraft": sortie.aircraft.registration,
        "place": sortie.place.name,
    }
    return {name: everything[name] for name in like}


def plan_sortie(
    person: Person,
    student: Student,
    aircraft: Aircraft,
    place: Place,
    lesson_key: str,
    at: datetime,
    plan: PlanDocument | None = None,
) -> Sortie:
    """A new sortie with this plan, or with the lesson's figures, each a little above its lowest start. Raises
    Denied, Refused."""
    require_instructor(person)
    sortie = Sortie(
        student=student,
        instructor=person,
        aircraft=aircraft,
        place=place,
        planned_for=at,
        changed_by=person,
        brief=Brief().model_dump(mode="json"),
        debrief=Debrief().model_dump(mode="json"),
    )
    if plan is None:
        try:
            lesson = lesson_of(lesson_key)
        except ValueError as error:
            raise refused("lesson", str(error), "Choose a lesson of the syllabus.") from error
        plan = laid_out_above_the_lowest(lesson, setting_of(aircraft, student, person, at), place.document())
    computed(plan, conditions_for(sortie, plan))
    sortie.plan = plan.model_dump(mode="json")
    sortie.save()
    return sortie


def copy_sortie(
    person: Person, earlier: Sortie, student: Student, aircraft: Aircraft, at: datetime
) -> Sortie:
    """The figures and settings of an earlier sortie for a new one: its own load and day, no overrides. Raises
    Denied, Refused."""
    plan = read_document(PlanDocument, earlier.plan)
    other = aircraft.pk != earlier.aircraft_id
    figures = tuple(f.model_copy(update={"entry_ias": None}) for f in plan.figures) if other else plan.figures
    fresh = plan.model_copy(
        update={
            "figures": figures,
            "load": load_for(aircraft, student, person),
            "day": Day(),
            "overrides": (),
            "feeling": None,
        }
    )
    return plan_sortie(person, student, aircraft, earlier.place, plan.lesson, at, fresh)


def sortie_to_change(
    person: Person, sortie_id: int, version: int, mine: dict[str, Any] | None = None
) -> Sortie:
    """The sortie, inside the caller's transaction, when this person may change it and nobody stored it since
    `version`. `mine`: what is about to be stored, for showing the difference. Raises Denied, Overtaken."""
    sortie = Sortie.objects.select_related(
        "student__person", "instructor", "aircraft", "place", "changed_by"
    ).get(pk=sortie_id)
    require_edit(person, sortie)
    if sortie.version != version:
        found = [] if mine is None else differences(_stored_form(sortie, mine), mine)
        raise Overtaken(sortie.changed_by.name, sortie.changed_at, sortie.version, found)
    return sortie


def save_sortie(person: Person, sortie_id: int, version: int, sheets: Sheets) -> Sortie:
    """All of the sheets or none. Raises Denied, Refused, Overtaken. A changed plan takes a briefed sortie
    back to planned."""
    with transaction.atomic():
        mine = sheets.stored_form()
        sortie = sortie_to_change(person, sortie_id, version, mine)
        if mine == _stored_form(sortie, mine):
            return sortie
        sortie.aircraft, sortie.place = sheets.aircraft or sortie.aircraft, sheets.place or sortie.place
        plan = sheets.plan or read_document(PlanDocument, sortie.plan)
        conditions = conditions_for(sortie, plan)
        if sheets.plan or sheets.aircraft or sheets.place:
            if not allowed(Act.PLAN, sortie.stage_reached):
                raise Denied("The plan of a flown sortie does not change. Note what was flown instead.")
            computed(plan, conditions)
            plan = _overrides_signed_by(person, plan, sortie.plan)
            before, sortie.plan = sortie.plan, plan.model_dump(mode="json")
            # The student's number is asked after the brief: it alone does not undo it.
            if (
                sheets.aircraft
                or sheets.place
                or {**before, "feeling": None} != {**sortie.plan, "feeling": None}
            ):
                sortie.stage = "planned"
        if sheets.brief is not None:
            sortie.brief = sheets.brief.model_dump(mode="json")
        if sheets.debrief is not None:
            sortie.debrief = sheets.debrief.model_dump(mode="json")
        sortie.version, sortie.changed_by = sortie.version + 1, person
        sortie.save()
        if sheets.attempts is not None:
            _replace_attempts(sortie, sheets.attempts, conditions)
    return sortie


def _overrides_signed_by(person: Person, plan: PlanDocument, stored: dict[str, Any]) -> PlanDocument:
    """Overrides that were not there before carry the name of who stores them, whatever the sender wrote."""
    there = stored["overrides"]
    named = tuple(
        o if o.model_dump(mode="json") in there else o.model_copy(update={"by": person.name})
        for o in plan.overrides
    )
    return plan.model_copy(update={"overrides": named})


def _replace_attempts(sortie: Sortie, attempts: list[Attempt], conditions: Conditions) -> None:
    ids = [a.id for a in attempts]
    if len(set(ids)) != len(ids):
        raise refused("attempts", "two attempts have the same id", "Give each its own.")
    sortie.attempts.all().delete()
    rows = []
    for order, attempt in enumerate(attempts):
        account = loss_account(attempt, conditions)
        rows.append(
            AttemptRow(
                sortie=sortie,
                order=order,
                attempt=attempt.model_dump(mode="json"),
                figure=attempt.planned.key,
                lost_ft=attempt.lost_ft,
                briefed_ft=account.planned.value if account else None,
            )
        )
    AttemptRow.objects.bulk_create(rows)


def missing_for(sortie: Sortie, stops: int) -> dict[str, list[str]]:
    """What is missing before each stage, in words."""
    brief = read_document(Brief, sortie.brief)
    attempts, figures = attempts_of(sortie), len(sortie.plan["figures"])
    return {
        stage: missing_before(stage, figures, stops, brief, attempts, sortie.stage_reached)
        for stage in STAGES[1:]
    }


def move_stage(person: Person, sortie_id: int, version: int, to: Stage) -> Sortie:
    """Forward by one stage when nothing is missing, or back to an earlier one. Raises Denied, Refused,
    Overtaken."""
    with transaction.atomic():
        sortie = sortie_to_change(person, sortie_id, version)
        step = STAGES.index(to) - STAGES.index(sortie.stage_reached)
        if to == "signed":
            raise refused("stage", "a sortie is signed with the password", "Use Sign.")
        if step > 1:
            raise refused(
                "stage",
                f"a {sortie.stage} sortie cannot become {to} at once",
                "Go through the stages in between.",
            )
        if step == 1:
            missing = missing_for(sortie, answer_for(sortie).answer.stops)[to]
            if missing:
                raise Refused([Problem("stage", words.rstrip("."), "Then try again.") for words in missing])
        sortie.stage, sortie.version, sortie.changed_by = to, sortie.version + 1, person
        sortie.save()
        StageChange.objects.create(sortie=sortie, stage=to, by=person)
    return sortie


def discard_sortie(person: Person, sortie: Sortie) -> None:
    """A draft can be thrown away by its instructor; what was flown stays. Raises Denied."""
    require_edit(person, sortie)
    if STAGES.index(sortie.stage_reached) > STAGES.index("briefed"):
        raise Denied("A flown sortie stays on the record.")
    sortie.delete()
