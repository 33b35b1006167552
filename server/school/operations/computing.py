"""Asking the core about a sortie. Nothing is computed here."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from django.utils import timezone

from keelturn.assess.loss import LossAccount, loss_account
from keelturn.document import Wrong
from keelturn.flying.conditions import Conditions
from keelturn.formats.reading import read_stored, refusal_of, refused
from keelturn.formats.signed import Record
from keelturn.noting.attempt import Attempt
from keelturn.noting.entry import Entry
from keelturn.plan.document import Override, PlanDocument, conditions_of
from keelturn.plan.overrides import given_for, open_stops, overridden
from keelturn.plan.sequence import PlanAnswer, compute_plan
from server import clock
from server.recalled import recalled
from server.school.models import Aircraft, Place, SchoolStandards, Sortie
from server.school.operations.before import missing_for
from server.school.operations.dates import dates_for
from server.school.operations.own import own_kept, own_numbers


def conditions_for(
    sortie: Sortie, plan: PlanDocument, aircraft: Aircraft | None = None, place: Place | None = None
) -> Conditions:
    """On the card and the place that the sortie remembers, or on others. Raises Refused when the load does
    not fit the aircraft."""
    other = aircraft is not None and aircraft.pk != sortie.aircraft_id
    elsewhere = place is not None and place.pk != sortie.place_id
    card = aircraft.document() if aircraft is not None and other else sortie.card()
    where = place.document() if place is not None and elsewhere else sortie.where()
    days = (
        aircraft.parachute_days(clock.day_of(sortie.planned_for))
        if aircraft is not None and other
        else sortie.parachute_days()
    )
    standards, stage = SchoolStandards.in_force().document(), sortie.student.stage_reached
    own = own_kept(sortie) if sortie.was_flown else own_numbers(sortie.student, sortie.planned_for)
    try:
        at = timezone.localtime(sortie.planned_for)
        return conditions_of(
            plan,
            card,
            where,
            standards,
            stage,
            days,
            at,
            own,
            dates_for(sortie, aircraft),
            before=missing_for(sortie, plan, card, standards),
            weather_due=not sortie.was_flown and at.date() <= clock.day_of(clock.now()),
        )
    except Wrong as error:
        raise refusal_of(error) from error


def conditions_of_record(record: Record) -> Conditions:
    """Those that it was made with. Raises Refused when the load does not fit the aircraft."""
    at = timezone.localtime(record.planned_for)
    try:
        return conditions_of(
            record.plan,
            record.card,
            record.place,
            record.standards,
            record.student_stage,
            record.parachute_days,
            at,
            record.own,
            record.dates,
            before=record.before,
        )
    except Wrong as error:
        raise refusal_of(error) from error


def computed(plan: PlanDocument, conditions: Conditions) -> PlanAnswer:
    """Raises Refused when a figure asks for a school that does not fit."""
    try:
        return compute_plan(plan, conditions)
    except ValueError as error:
        raise refused("plan.figures", str(error), "Correct the figure.") from error


def _identity(override: Override) -> object:
    """Its own name; one that has none (older ones) is told by what it says, and is not given anew by being
    stored again."""
    return override.id or (override.check, override.reason)


def with_overrides(
    by: str, plan: PlanDocument, stored: Sequence[Override], answer: PlanAnswer
) -> tuple[PlanDocument, PlanAnswer]:
    """The plan with its overrides as only the server writes them: those stored stay as they are, a new one is
    this person's (by name), now, for the stop that stands; one for no stop is left out."""
    there = {_identity(override): override for override in stored}
    now = clock.now()
    kept = tuple(
        override
        for sent in plan.overrides
        if (override := there.get(_identity(sent)) or given_for(sent, answer.checks, by, now)) is not None
    )
    checks = overridden(answer.checks, kept)
    return (
        plan.model_copy(update={"overrides": kept}),
        replace(answer, checks=checks, stops=open_stops(checks)),
    )


@dataclass(frozen=True)
class SortieAnswer:
    conditions: Conditions
    plan: PlanDocument
    attempts: list[Attempt]
    answer: PlanAnswer
    accounts: dict[str, LossAccount]


def plan_of(sortie: Sortie) -> PlanDocument:
    """As it is stored. Raises Unreadable."""
    return read_stored(PlanDocument, sortie.plan, "plan")


def attempts_of(sortie: Sortie) -> list[Attempt]:
    """As they are stored. One query. Raises Unreadable."""
    return [read_stored(Attempt, row.attempt, f"attempts[{row.order}]") for row in sortie.attempts.all()]


def entries_kept(sortie: Sortie) -> tuple[Entry, ...]:
    """In the order in which they came. One query. Raises Unreadable."""
    return tuple(read_stored(Entry, row.entry, f"entries[{row.ident}]") for row in sortie.entries.all())


def answer_for(sortie: Sortie) -> SortieAnswer:
    """The stored plan and attempts, computed with the card and place that it remembers and the standards in
    force; kept by everything that the answer follows from. Two queries, seven while it is not flown and
    what should come before it is kept. Raises Refused, Unreadable."""
    plan = plan_of(sortie)
    conditions = conditions_for(sortie, plan)
    attempts = attempts_of(sortie)
    accounts = {a.id: account for a in attempts if (account := loss_account(a, conditions)) is not None}
    answer = recalled(("plan", plan, conditions), lambda: computed(plan, conditions))
    return SortieAnswer(conditions, plan, attempts, answer, accounts)
