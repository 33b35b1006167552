"""Storing what was changed of a sortie: all of it or nothing."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from django.db import transaction

from keelturn.formats.reading import Problem, Refused, read_stored
from keelturn.noting.attempt import Attempt
from keelturn.plan.briefing import Brief
from keelturn.plan.document import Override, PlanDocument
from keelturn.progress.stages import STAGES, Act, Debrief, Stage, missing_before, stage_held
from server.school.models import Aircraft, Deed, DeedKind, Person, Place, Sortie
from server.school.operations.adding import add_up_again
from server.school.operations.comparing import differences, names_in
from server.school.operations.computing import (
    attempts_of,
    computed,
    conditions_for,
    plan_of,
    with_overrides,
)
from server.school.operations.courses import courses_for, lesson_for
from server.school.operations.sorties import (
    Overtaken,
    sortie_to_change,
    standing_of,
    stored_next,
)
from server.school.operations.weather import as_reported
from server.school.permissions import Denied


@dataclass(frozen=True)
class Sheets:
    """What a save may bring; None leaves that part as it is."""

    plan: PlanDocument | None = None
    brief: Brief | None = None
    debrief: Debrief | None = None
    aircraft: Aircraft | None = None
    place: Place | None = None

    def stored_form(self) -> dict[str, Any]:
        found: dict[str, Any] = {}
        for name in ("plan", "brief", "debrief"):
            sheet = getattr(self, name)
            if sheet is not None:
                found[name] = sheet.model_dump(mode="json")
        if self.aircraft is not None:
            found["aircraft"] = self.aircraft.registration
        if self.place is not None:
            found["place"] = self.place.name
        return found


def _stored_form(sortie: Sortie, like: dict[str, Any]) -> dict[str, Any]:
    """Of a sortie, what is named in `like`."""
    everything = {
        "plan": sortie.plan,
        "brief": sortie.brief,
        "debrief": sortie.debrief,
        "aircraft": sortie.aircraft.registration,
        "place": sortie.place.name,
    }
    return {name: everything[name] for name in like}


@dataclass(frozen=True)
class _Held:
    """What of the sheets a stage may need."""

    figures: int
    brief: Brief
    attempts: list[Attempt]

    def stage(self, reached: Stage) -> int:
        return STAGES.index(stage_held(reached, self.figures, self.brief, self.attempts))

    def lacks(self, reached: Stage) -> list[str]:
        needed = STAGES[1 : STAGES.index(reached) + 1]
        return [
            words
            for stage in needed
            for words in missing_before(stage, self.figures, 0, self.brief, self.attempts, reached)
        ]


def save_sortie(person: Person, sortie_id: int, version: int, sheets: Sheets) -> Sortie:
    """Raises Denied, Refused, Overtaken. A save that takes away what a stage needed takes the sortie back to
    the stage that still holds, on the record; what was flown stays flown."""
    mine = sheets.stored_form()
    try:
        sortie = sortie_to_change(person, sortie_id, version)
        stored, before, held = _stored_form(sortie, mine), standing_of(sortie), _held(sortie)
        _put_into(sortie, sheets, person)
        if _stored_form(sortie, mine) == stored:
            return sortie
        sortie.stage = _stage_after(sortie, held, _held(sortie))
        with transaction.atomic():
            stored_next(person, sortie, before)
            Deed.note_once(person, DeedKind.SAVED, f"sortie {sortie.pk}", " and ".join(mine))
            if sheets.plan or sheets.aircraft or sheets.place:
                add_up_again(sortie)
    except Overtaken as overtaken:
        now = Sortie.objects.select_related("aircraft", "place").get(pk=sortie_id)
        stored = _stored_form(now, mine)
        found = differences(stored, mine, names_in(stored, mine))
        raise Overtaken(overtaken.by, overtaken.at, overtaken.version, found) from None
    return sortie


def _held(sortie: Sortie) -> _Held:
    return _Held(len(plan_of(sortie).figures), read_stored(Brief, sortie.brief, "brief"), attempts_of(sortie))


def _put_into(sortie: Sortie, sheets: Sheets, person: Person) -> None:
    """The sheets as the server keeps them, into a sortie that is not stored yet. Raises Denied, Refused."""
    was = sortie.aircraft_id, sortie.place_id
    if sheets.aircraft is not None and sheets.aircraft.pk != sortie.aircraft_id:
        sortie.aircraft = sheets.aircraft
        sortie.keep_card()
    if sheets.place is not None and sheets.place.pk != sortie.place_id:
        sortie.place = sheets.place
        sortie.keep_place()
    if sheets.plan or sheets.aircraft or sheets.place:
        before = plan_of(sortie)
        after = _put_plan(sortie, sheets.plan or before, before.overrides, person)
        moved = (sortie.aircraft_id, sortie.place_id) != was
        # The student's number is asked after the brief: it alone does not undo it.
        if moved or after.model_copy(update={"feeling": before.feeling}) != before:
            sortie.stage = "planned"
    if sheets.brief is not None:
        sortie.brief = sheets.brief.model_dump(mode="json")
    if sheets.debrief is not None:
        sortie.debrief = sheets.debrief.model_dump(mode="json")


def _put_plan(
    sortie: Sortie, plan: PlanDocument, overrides: Sequence[Override], person: Person
) -> PlanDocument:
    """The plan as it is kept. Raises Denied, Refused."""
    if not sortie.open_for(Act.PLAN):
        raise Denied("the plan of a flown sortie does not change", "Note what was flown instead.")
    if plan.lesson != sortie.plan.get("lesson"):
        sortie.keep_lesson(lesson_for(plan.lesson, courses_for(sortie.student), "plan.lesson"))
    answer = computed(plan, conditions_for(sortie, plan))
    plan, _ = with_overrides(person.name, as_reported(plan), overrides, answer)
    sortie.plan = plan.model_dump(mode="json")
    return plan


def _stage_after(sortie: Sortie, before: _Held, after: _Held) -> Stage:
    """Raises Refused where the save would take away what a flown sortie needed to be flown."""
    reached, flown = sortie.stage_reached, STAGES.index("flown")
    was, now = before.stage(reached), after.stage(reached)
    if now >= was:
        return reached
    if STAGES.index(reached) >= flown > now:
        what = "it was needed for a sortie that is {}: {}"
        lacks = [what.format(reached, words.rstrip(".")) for words in after.lacks("flown")]
        raise Refused(
            [Problem("stage", words, "What was flown stays; correct it instead.") for words in lacks]
        )
    return STAGES[now]
