"""Sorties: today's list, one sortie, saving, moving on, signing, correcting."""

from datetime import datetime, timedelta
from typing import Any

from django.db.models import Count, Q
from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from ninja import Router, Status

from keelturn.formats.reading import read_document
from keelturn.margins.checks import Verdict
from keelturn.plan.briefing import BEFORE_FLIGHT, Brief, pages
from keelturn.plan.document import PlanDocument
from keelturn.plan.flight_checks import parachute_check
from keelturn.progress.lessons import lesson_of
from keelturn.progress.stages import Act, Debrief, allowed, next_by_hand, reached
from server import clock
from server.api.doors import REFUSALS, asking, seen_sortie, seen_student
from server.api.plan_schemas import QuestionOut, ReadOut
from server.api.schemas import (
    ComingSortie,
    Conflict,
    CorrectionOut,
    MayOut,
    MoveStage,
    NewCorrection,
    NewSortie,
    Notice,
    SaveSortie,
    Sign,
    SignatureOut,
    SortieLine,
    SortieOut,
    Today,
)
from server.school.models import Aircraft, Person, Place, SchoolStandards, Sortie
from server.school.operations import signing
from server.school.operations import sorties as operations
from server.school.operations.clashes import clashes_among
from server.school.operations.computing import answer_for, attempts_of
from server.school.operations.reading import plan_digest
from server.school.operations.record import earlier_faults, faults_last_time
from server.school.permissions import may, may_edit, require_edit, require_instructor, sorties_seen_by

router = Router(tags=["sorties"])
RECENT = 12


def line(sortie: Sortie) -> SortieLine:
    return SortieLine(**_line(sortie))


def _line(sortie: Sortie) -> dict[str, Any]:
    lesson = lesson_of(sortie.plan["lesson"])
    return {
        "id": sortie.pk,
        "lesson": lesson.key,
        "lesson_name": lesson.name,
        "student": sortie.student.person.name,
        "student_id": sortie.student_id,
        "instructor": sortie.instructor.name,
        "aircraft": sortie.aircraft.registration,
        "aircraft_name": sortie.aircraft.card["name"],
        "place": sortie.place.name,
        "planned_for": sortie.planned_for,
        "stage": sortie.stage,
        "figures": len(sortie.plan["figures"]),
    }


def whole(request: HttpRequest, sortie: Sortie) -> SortieOut:
    person = asking(request)
    signature = getattr(sortie, "signature", None) if sortie.stage == "signed" else None
    if signature is None:
        found = answer_for(sortie)
        plan, attempts, answer, accounts = found.plan, found.attempts, found.answer, found.accounts
    else:
        plan, attempts = read_document(PlanDocument, sortie.plan), attempts_of(sortie)
        answer, accounts = signing.answer_as_signed(signature)
    return SortieOut(
        **_line(sortie),
        version=sortie.version,
        aircraft_id=sortie.aircraft_id,
        place_id=sortie.place_id,
        speed_unit=sortie.aircraft.card["speed_unit"],
        student_stage=sortie.student.stage,
        changed_by=sortie.changed_by.name,
        changed_at=sortie.changed_at,
        may=_may(person, sortie),
        reached=list(reached(sortie.stage_reached)),
        plan=plan,
        answer=answer,
        brief=read_document(Brief, sortie.brief),
        brief_items=list(BEFORE_FLIGHT),
        attempts=attempts,
        accounts=accounts,
        debrief=read_document(Debrief, sortie.debrief),
        missing=operations.missing_for(sortie, answer.stops),
        earlier_faults=earlier_faults(sortie),
        brief_pages=list(pages(answer.leave.shown if answer.leave else None)),
        read=_read(sortie),
        questions=[
            QuestionOut(
                id=q.pk,
                by=q.by.name,
                at=q.at,
                figure=q.figure,
                text=q.text,
                answer=q.answer,
                answered_by=q.answered_by.name if q.answered_by else None,
            )
            for q in sortie.questions.select_related("by", "answered_by")
        ],
        clashes=clashes_among([sortie])[sortie.pk] if allowed(Act.PLAN, sortie.stage_reached) else [],
        signature=None
        if signature is None
        else SignatureOut(
            by=signature.by.name,
            at=signature.at,
            digest=signature.digest,
            holds=signing.digest_of(signature.document) == signature.digest,
        ),
        corrections=[
            CorrectionOut(by=c.by.name, at=c.at, reason=c.reason, text=c.text)
            for c in sortie.corrections.select_related("by")
        ],
    )


def _may(person: Person, sortie: Sortie) -> MayOut:
    save = may_edit(person, sortie)
    return MayOut(
        save=save,
        move=next_by_hand(sortie.stage_reached) if save else None,
        **{act: may(person, sortie, act) for act in Act},
    )


def _read(sortie: Sortie) -> ReadOut | None:
    found = getattr(sortie, "read", None)
    return None if found is None else ReadOut(at=found.at, current=found.plan_digest == plan_digest(sortie))


@router.get("/today", response={200: Today, **REFUSALS})
def today(request: HttpRequest) -> Today:
    """Sorties from today on and drafts left over, then the last ones flown. One query for each coming
    sortie."""
    person, now = asking(request), clock.now()
    seen = sorties_seen_by(person)
    morning = now.replace(hour=0, minute=0, second=0, microsecond=0)
    coming = seen.exclude(stage="signed").filter(planned_for__gte=morning - timedelta(days=2))
    mine = coming.filter(instructor=person) if person.teaches and not person.is_chief else coming
    recent = seen.filter(stage="signed").order_by("-planned_for")[:RECENT]
    planned = list(
        mine.select_related("read").annotate(asked=Count("questions", filter=Q(questions__answer="")))
    )
    twice = clashes_among([s for s in planned if allowed(Act.PLAN, s.stage_reached)])
    coming_lines = [
        ComingSortie(
            **_line(s),
            last_time=faults_last_time(s),
            clashes=twice.get(s.pk, []) if person.teaches else [],
            read=hasattr(s, "read"),
            open_questions=s.asked,
            may_read=may(person, s, Act.READ),
        )
        for s in planned
    ]
    return Today(
        now=now,
        sorties=coming_lines,
        notices=notices(now) if person.teaches else [],
        recent=[line(s) for s in recent],
    )


def notices(now: datetime) -> list[Notice]:
    """What somebody should see to before it grounds an aircraft. Two queries."""
    standards = SchoolStandards.in_force().document()
    found = []
    for aircraft in Aircraft.objects.order_by("registration"):
        check = parachute_check(aircraft.parachute_days(now.date()), standards)
        if check.verdict != Verdict.FINE:
            words = " ".join(filter(None, (check.sentence, check.hint, f"{check.spare}.")))
            found.append(
                Notice(
                    verdict=check.verdict, title=f"{check.title} of {aircraft.registration}", sentence=words
                )
            )
    return found


@router.post("/sorties", response={201: SortieOut, **REFUSALS})
def plan_sortie(request: HttpRequest, data: NewSortie) -> Status[Any]:
    require_instructor(asking(request))
    student = seen_student(request, data.student_id)
    aircraft, place = (
        get_object_or_404(Aircraft, pk=data.aircraft_id),
        get_object_or_404(Place, pk=data.place_id),
    )
    if data.copy_of is not None:
        made = operations.copy_sortie(
            asking(request), seen_sortie(request, data.copy_of), student, aircraft, data.planned_for
        )
    else:
        made = operations.plan_sortie(
            asking(request), student, aircraft, place, data.lesson, data.planned_for, data.plan
        )
    return Status(201, whole(request, made))


@router.get("/sorties/{sortie_id}", response={200: SortieOut, **REFUSALS})
def sortie(request: HttpRequest, sortie_id: int) -> SortieOut:
    return whole(request, seen_sortie(request, sortie_id))


@router.put("/sorties/{sortie_id}", response={200: SortieOut, 409: Conflict, **REFUSALS})
def save(request: HttpRequest, sortie_id: int, data: SaveSortie) -> SortieOut:
    seen_sortie(request, sortie_id)
    sheets = operations.Sheets(
        data.plan,
        data.brief,
        data.attempts,
        data.debrief,
        None if data.aircraft_id is None else get_object_or_404(Aircraft, pk=data.aircraft_id),
        None if data.place_id is None else get_object_or_404(Place, pk=data.place_id),
    )
    return whole(request, operations.save_sortie(asking(request), sortie_id, data.version, sheets))


@router.delete("/sorties/{sortie_id}", response={204: None, **REFUSALS})
def discard(request: HttpRequest, sortie_id: int) -> Status[Any]:
    operations.discard_sortie(asking(request), seen_sortie(request, sortie_id))
    return Status(204, None)


@router.post("/sorties/{sortie_id}/stage", response={200: SortieOut, 409: Conflict, **REFUSALS})
def move_stage(request: HttpRequest, sortie_id: int, data: MoveStage) -> SortieOut:
    seen_sortie(request, sortie_id)
    return whole(request, operations.move_stage(asking(request), sortie_id, data.version, data.to))


@router.post("/sorties/{sortie_id}/sign", response={200: SortieOut, 409: Conflict, **REFUSALS})
def sign(request: HttpRequest, sortie_id: int, data: Sign) -> SortieOut:
    require_edit(asking(request), seen_sortie(request, sortie_id))
    return whole(request, signing.sign_sortie(asking(request), sortie_id, data.version, data.password))


@router.post("/sorties/{sortie_id}/corrections", response={201: SortieOut, **REFUSALS})
def correct(request: HttpRequest, sortie_id: int, data: NewCorrection) -> Status[Any]:
    found = seen_sortie(request, sortie_id)
    signing.add_correction(asking(request), found, data.reason, data.text)
    return Status(201, whole(request, found))
