"""The second look at the attempts of a sortie: how each was flown, one thing to say, which grade it comes to;
and the student's sheet."""

from dataclasses import replace
from functools import partial
from typing import Any

from django.http import HttpRequest, HttpResponse
from ninja import Router

from keelturn.assess.second_look import SecondLook, second_look
from keelturn.assess.technique import Technique, technique_noted
from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.formats.signed import Record
from keelturn.noting.attempt import Attempt
from keelturn.progress.habits import in_a_row
from server import recordings
from server.api.doors import REFUSALS, a_file, asking, file_sent, seen_sortie
from server.api.heavy import technique_recorded
from server.api.schemas import Id
from server.recalled import is_kept, keep, recalled
from server.school.handouts.data import sortie_csv, sortie_json
from server.school.handouts.sheet import sheet_pdf
from server.school.models import Recorded, Sortie
from server.school.operations import recordings as operations
from server.school.operations.computing import conditions_of_record
from server.school.operations.record import corrections_of, lessons_before
from server.school.operations.showing import may_see_looks, record_for, record_of
from server.workers import Asked, workers

router = Router(tags=["debrief"])


@router.get("/sorties/{sortie_id}/looks/{attempt}", response={200: SecondLook, **REFUSALS})
def look(request: HttpRequest, sortie_id: Id, attempt: str) -> SecondLook:
    """Of a signed sortie as it was signed. What is said and proposed a student sees when the debrief is
    done."""
    sortie = seen_sortie(request, sortie_id)
    record = record_of(sortie)
    if attempt in record.looks:
        return record.looks[attempt]
    found = looks_of(request, sortie, replace(record, attempts=_only(attempt, record)))
    looked = found.get(attempt, SecondLook(None, None, None))
    if not may_see_looks(asking(request), sortie):
        return SecondLook(looked.technique, None, None)
    return replace(looked, counted_now=record.signed_at is not None)


def _only(attempt: str, record: Record) -> tuple[Attempt, ...]:
    return tuple(one for one in record.attempts if one.id == attempt)


def looks_of(request: HttpRequest, sortie: Sortie, record: Record) -> dict[str, SecondLook]:
    """Of every attempt of the record, by its id. Raises what the workers do, and Refused where the load does
    not fit the aircraft."""
    before = in_a_row(lessons_before(sortie))
    plan = {figure.id: figure for figure in record.plan.figures}
    conditions = conditions_of_record(record)
    return {
        attempt.id: second_look(
            attempt,
            plan.get(attempt.planned.id, attempt.planned),
            record.accounts.get(attempt.id),
            technique_of(request, sortie, attempt, record.plan.figures, conditions),
            conditions,
            before,
        )
        for attempt in record.attempts
    }


def technique_of(
    request: HttpRequest,
    sortie: Sortie,
    attempt: Attempt,
    plan: tuple[PlannedFigure, ...],
    conditions: Conditions,
) -> Technique | None:
    """From the last recording that has it, else from what was noted; None where neither tells. Kept by
    everything that it follows from. Raises what the workers do."""
    asked = _asked_of(operations.last_with(sortie, attempt.id), attempt.id, plan, conditions)
    if asked is not None:
        follows_from, what = asked
        recorded = recalled(follows_from, lambda: workers.answer(request, technique_recorded, *what))
        if recorded is not None:
            return recorded
    heights = (attempt.start_ft, attempt.recover_ft, attempt.lowest_ft, attempt.most_g)
    noted = (attempt.planned, *heights, attempt.faults, attempt.offered)
    return recalled(
        (*noted, conditions.wholly), lambda: workers.answer(request, technique_noted, attempt, conditions)
    )


def _asked_of(
    row: Recorded | None, attempt: str, plan: tuple[PlannedFigure, ...], conditions: Conditions
) -> tuple[object, tuple[Any, ...]] | None:
    """What the technique follows from, and what it is asked with; None without a recording of it."""
    content = None if row is None else recordings.content_of(row.digest)
    if row is None or content is None:
        return None
    how, device = operations.read_how(row), operations.device_of(row.digest)
    follows_from = (row.digest, how, plan, conditions.wholly, attempt, device)
    return follows_from, (row.digest, content, how, plan, conditions, attempt, device)


def look_ahead(sortie: Sortie, row: Recorded) -> None:
    """How the figures of a recording that has just come in were flown, before somebody asks."""
    record = record_of(sortie)
    conditions = conditions_of_record(record)
    found = (_asked_of(row, attempt, record.plan.figures, conditions) for attempt in row.traces)
    workers.meanwhile(
        Asked(technique_recorded, what, partial(keep, follows_from))
        for follows_from, what in filter(None, found)
        if not is_kept(follows_from)
    )


@router.get("/sorties/{sortie_id}/sheet.pdf", response=REFUSALS, openapi_extra=a_file("application/pdf"))
def sheet(request: HttpRequest, sortie_id: Id) -> HttpResponse:
    found = seen_sortie(request, sortie_id)
    record, since = record_for(asking(request), found), [c.text for c in found.corrections.all()]
    return file_sent(sheet_pdf(record, since), "application/pdf", f"sheet-{sortie_id}.pdf")


@router.get("/sorties/{sortie_id}/sortie.json", response={200: Any, **REFUSALS})
def as_json_file(request: HttpRequest, sortie_id: Id) -> HttpResponse:
    """All that is kept of it, every number with its working."""
    record = record_for(asking(request), seen_sortie(request, sortie_id))
    return file_sent(sortie_json(record), "application/json; charset=utf-8", f"sortie-{sortie_id}.json")


@router.get("/sorties/{sortie_id}/attempts.csv", response=REFUSALS, openapi_extra=a_file("text/csv"))
def as_table(request: HttpRequest, sortie_id: Id) -> HttpResponse:
    found = seen_sortie(request, sortie_id)
    record, since = record_for(asking(request), found), corrections_of(found)
    return file_sent(sortie_csv(record, since), "text/csv; charset=utf-8", f"attempts-{sortie_id}.csv")
