"""Asking the core about a sortie. Nothing is computed here."""

from dataclasses import dataclass

from keelturn.assess.attempts import Attempt, LossAccount, loss_account
from keelturn.document import Wrong
from keelturn.flying.conditions import Conditions
from keelturn.formats.reading import read_document, refusal_of, refused
from keelturn.plan.document import PlanDocument, conditions_of
from keelturn.plan.sequence import PlanAnswer, compute_plan
from server.school.models import Aircraft, Place, SchoolStandards, Sortie


def conditions_for(
    sortie: Sortie, plan: PlanDocument, aircraft: Aircraft | None = None, place: Place | None = None
) -> Conditions:
    """Raises Refused when the load does not fit the aircraft."""
    aircraft, place = aircraft or sortie.aircraft, place or sortie.place
    stage = sortie.student.stage_reached
    days = aircraft.parachute_days(sortie.planned_for.date())
    standards = SchoolStandards.in_force().document()
    try:
        return conditions_of(
            plan, aircraft.document(), place.document(), standards, stage, days, sortie.planned_for
        )
    except Wrong as error:
        raise refusal_of(error) from error


def computed(plan: PlanDocument, conditions: Conditions) -> PlanAnswer:
    """Raises Refused when a figure asks for a school that does not fit."""
    try:
        return compute_plan(plan, conditions)
    except ValueError as error:
        raise refused("plan.figures", str(error), "Correct the figure.") from error


@dataclass(frozen=True)
class SortieAnswer:
    plan: PlanDocument
    attempts: list[Attempt]
    answer: PlanAnswer
    accounts: dict[str, LossAccount]


def attempts_of(sortie: Sortie) -> list[Attempt]:
    return [read_document(Attempt, row.attempt) for row in sortie.attempts.all()]


def answer_for(sortie: Sortie) -> SortieAnswer:
    """The stored plan and attempts, computed with the aircraft, place and standards in force. Two queries."""
    plan = read_document(PlanDocument, sortie.plan)
    conditions = conditions_for(sortie, plan)
    attempts = attempts_of(sortie)
    accounts = {a.id: account for a in attempts if (account := loss_account(a, conditions)) is not None}
    return SortieAnswer(plan, attempts, computed(plan, conditions), accounts)
